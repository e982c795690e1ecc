"""``python -m lemmar``: the same as the console command."""

from lemmar.cli import entry

if __name__ == "__main__":
    entry()
