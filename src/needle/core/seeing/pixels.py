"""What a picture is made of, for all who read it."""

import numpy as np
from numpy.typing import NDArray

__all__ = ["Pixels"]

# A picture in sRGB: shape (height, width, 3), 0 to 255.
Pixels = NDArray[np.uint8]
