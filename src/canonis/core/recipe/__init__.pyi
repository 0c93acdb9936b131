from .build import build_recipe as build_recipe
from .example import PLATE as PLATE
from .example import plate as plate
from .example import plate_model as plate_model
