"""Making a batch: from a blend to bottles."""
