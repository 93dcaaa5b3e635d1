"""The command line. Documents alone on standard output, everything else on standard error."""
