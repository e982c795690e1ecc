"""From audited clients to a verdict: judging one client, what several share, what hides what, waivers, owners, places, earlier verdicts."""
