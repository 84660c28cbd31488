"""The room of steeping: plant in oil."""
