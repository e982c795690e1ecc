"""``python -m lemmar``: the same as the console command."""

from lemmar.cli import main

if __name__ == "__main__":
    main()
