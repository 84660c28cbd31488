"""Pictures worked out as coordinates: the templates only draw them."""
