from .checkpoint import check_mass as check_mass
from .comparison import agrees as agrees
from .comparison import differing as differing
