"""Everything that is known of a blend, worked out once: the end of the one road."""
