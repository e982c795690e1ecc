"""What `make fuzz` mutates; each module is a target with a method `next`, which tries one thing and says what is wrong."""
