"""Every way of computing a figure that there is, by its key; each stands beside the numbers that it speaks of."""

from __future__ import annotations

from uptide.core.figures import workings as of_figures
from uptide.core.infusion import workings as of_jars
from uptide.core.keeping import workings as of_keeping
from uptide.core.safety import workings as of_safety
from uptide.core.skin import workings as of_skin

METHODS = {
    method.key: method for floor in (of_figures, of_skin, of_keeping, of_safety, of_jars) for method in floor.WORKINGS
}
