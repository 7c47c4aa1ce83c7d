"""Yearning stylizes moving footage: looks made of ordered treatments, steady across time.

What is public stands in `__init__.pyi`, which types and this module are made from; each name is
loaded when it is first used (PEP 562).
"""

import lazy_loader

__getattr__, __dir__, __all__ = lazy_loader.attach_stub(__name__, __file__)

__version__ = "0.1.0"
