"""From audited clients to a verdict: one client judged, problems that several clients share, what hides what, waivers, owners, places; earlier verdicts to compare with."""
