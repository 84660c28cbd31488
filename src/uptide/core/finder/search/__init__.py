"""From a wish to a blend: what is asked of it as limits on shares, and the shares that keep all of them."""
