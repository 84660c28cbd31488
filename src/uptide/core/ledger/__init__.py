"""The ledger of the shelf: what is left of a lot is the sum of what moved."""
