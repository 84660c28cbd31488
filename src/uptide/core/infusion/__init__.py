"""Plant in oil: water and what can live there, packing and covering, extraction, heat, and what is strained."""
