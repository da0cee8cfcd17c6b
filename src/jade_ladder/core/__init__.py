"""The rules and the calculations, in the words and the order of docs/calculations.md.

Frozen dataclasses and functions over them; the standard library only, no I/O, no clock.
"""
