"""Work for translators and their answers: briefs, one module a form of file, answers matched with today's source, checked, and written."""
