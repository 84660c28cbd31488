"""An array of numbers, as every vectorised computation takes and gives it."""

from __future__ import annotations

from typing import TYPE_CHECKING

import numpy as np

if TYPE_CHECKING:  # numpy.typing takes as long to read as all of the core, and is for the reader alone
    from numpy.typing import ArrayLike, NDArray

    Array = NDArray[np.float64]
else:
    Array, ArrayLike = np.ndarray, object

__all__ = ["Array", "ArrayLike"]
