"""Physical constants used by more than one module, each with its unit and source."""

GRAVITY = 9.80665
"""Standard acceleration of free fall. [m s⁻²] CGPM 1901."""

WATER_KINEMATIC_VISCOSITY = 1.004e-6
"""Kinematic viscosity of water at 20 °C. [m² s⁻¹] Handbook value, from memory."""

WATER_DENSITY = 998.2
"""Density of water at 20 °C. [kg m⁻³] Handbook value, from memory."""

LITRES_PER_CUBIC_METRE = 1000.0
"""[L m⁻³] By definition."""

MM_PER_M = 1000.0
"""[mm m⁻¹] By definition."""

SECONDS_PER_MINUTE = 60.0
"""[s min⁻¹] By definition."""

SECONDS_PER_HOUR = 3600.0
"""[s h⁻¹] By definition."""

SECONDS_PER_DAY = 86400.0
"""[s]"""

MINUTES_PER_DAY = 1440
"""[min]"""

METRES_PER_FOOT = 0.3048
"""By definition. [m ft⁻¹]"""

METRES_PER_INCH = 0.0254
"""By definition. [m in⁻¹]"""

CUBIC_METRES_PER_GALLON = 231 * METRES_PER_INCH**3
"""Of the United States, by definition 231 cubic inches. [m³ gal⁻¹]"""
