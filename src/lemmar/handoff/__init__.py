"""Work for translators, and what comes back of it: briefs, their files in several forms, answers held against today's source."""
