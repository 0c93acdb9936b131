from .build import build_recipe as build_recipe
