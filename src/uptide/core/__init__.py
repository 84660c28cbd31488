"""The trade, as pure Python: no input or output, clock, chance, framework or database."""
