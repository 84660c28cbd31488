"""How long an oil keeps: peroxides that grow, a slow ageing beside them, and what is not known about both."""
