"""What knows nothing of locales: text and lines, errors, registries, regular expressions, schemas, days, profiling."""
