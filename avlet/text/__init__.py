"""Fonts, shaping, units and boxes of a text. HarfBuzz shapes, ICU finds runs and boundaries, fontTools reads fonts."""
