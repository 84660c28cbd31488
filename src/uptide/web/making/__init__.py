"""Making: a batch planned, weighed at the bench, kept as a record, and labelled."""
