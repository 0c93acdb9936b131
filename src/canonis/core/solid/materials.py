"""Built-in material list: typical densities in g/cm³; a job may override each."""

from canonis.core.faults import BadInput

__all__ = ["DENSITIES", "density_of"]

DENSITIES: dict[str, float] = {
    "plain carbon steel": 7.85,
    "low-alloy steel": 7.85,
    "cast steel": 7.80,
    "stainless 304": 8.00,
    "grey cast iron": 7.20,
    "ductile iron": 7.10,
    "aluminium 6061": 2.70,
    "aluminium 7075": 2.81,
    "brass": 8.50,
    "bronze": 8.80,
    "copper": 8.96,
    "titanium grade 5": 4.43,
    "magnesium AZ91": 1.81,
    "zinc die cast": 6.60,
    "ABS": 1.05,
    "PA66": 1.14,
    "POM": 1.41,
    "PC": 1.20,
    "PE-HD": 0.95,
    "natural rubber": 0.93,
    "silicone": 1.15,
}


def density_of(material: str) -> float:
    """Density of a material by name, g/cm³.

    Raises BadInput when the name is not in the list.
    """
    wanted = material.strip().lower()
    for name, density in DENSITIES.items():
        if name.lower() == wanted:
            return density
    known = ", ".join(DENSITIES)
    raise BadInput(f"Material “{material}” is not in the list; give a density, or one of: {known}.")
