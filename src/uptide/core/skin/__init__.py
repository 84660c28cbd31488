"""The skin an oil is for: who wears it, how it feels there, and whether it suits."""
