"""Lift Crate: camera rigs that fit, balance and stay powered."""

__version__ = "0.1.0"
