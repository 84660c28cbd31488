"""The errors of the trade, as a tree.

UptideError
├── ProfileError        a fatty acid profile that cannot be one
├── QuantityError       an amount that cannot be meant
│   └── NotAnAmountError    words that are no amount at all
├── UnknownKeyError     a key that names nothing
└── ContainerError      a container that cannot be drawn or filled
"""


class UptideError(ValueError):
    """Something a person can put right; the message says what, what was found and what is allowed."""


class ProfileError(UptideError):
    """A fatty acid profile that cannot be one."""


class QuantityError(UptideError):
    """An amount that cannot be meant."""


class NotAnAmountError(QuantityError):
    """Words that are no amount at all."""


class UnknownKeyError(UptideError):
    """A key that names nothing."""


class ContainerError(UptideError):
    """A container that cannot be drawn or filled."""
