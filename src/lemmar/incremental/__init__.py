"""What need not be audited again, and who audits the rest: this process, several processes, or a cluster."""
