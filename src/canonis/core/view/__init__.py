"""Projection of a solid to lines in the plane of a view.

>>> from canonis.core.recipe import plate
>>> solid = plate()
>>> import numpy as np
>>> from canonis.core.view import front_frame, project
>>> front = project(solid, front_frame(np.array([1.0, 0, 0]), np.array([0, 0, 1.0])))
>>> len(front.visible), len(front.hidden)
(4, 2)
"""

import lazy_loader

__getattr__, __dir__, __all__ = lazy_loader.attach_stub(__name__, __file__)
