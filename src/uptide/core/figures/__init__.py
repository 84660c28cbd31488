"""What is computed of the oils in a blend, each figure once: the whole, the fat, how it pours, sets and looks."""
