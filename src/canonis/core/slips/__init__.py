"""One catalogue of hypotheses that explain a difference, on plain observables: numbers, volumes, centres."""
