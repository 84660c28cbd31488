"""What can stand in a row: oils and scents, lots with their certificates and past, oils of one's own."""
