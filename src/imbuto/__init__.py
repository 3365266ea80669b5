"""Imbuto plans emergency backup power: a house poured down to hours, and the neck that ends them first."""

__version__ = "0.2.0"
