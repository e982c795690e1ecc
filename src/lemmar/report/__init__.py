"""Output forms for machines: pure functions from results to text. No clock, no host name, no absolute path."""
