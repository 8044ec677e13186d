"""Gas in a bottle: how much the liquid holds, how the rest presses, and what a burp lets out."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Any

import numpy as np

from ..base import require_between

CO2_G_PER_VOLUME = 1.9635  #: Of CO2 per litre of liquid. [g/L]
CO2_MOLAR_MASS = 44.01  #: [g/mol]
ATMOSPHERE_BAR = 1.01325
GAS_CONSTANT = 0.082057  #: [L atm/(mol K)]


def henry(celsius: Any) -> Any:
    """Solubility of CO2 in water. [mol/(L atm)]

    Args:
        celsius: Temperature. [degC]

    Source: Sander 2015.
    """
    return 0.034 * np.exp(2400 * (1 / (np.asarray(celsius, float) + 273.15) - 1 / 298.15))


def gauge_bar(co2_volumes: Any, celsius: Any, headspace_fraction: Any) -> Any:
    """Pressure in a bottle never opened.

    Args:
        co2_volumes: Gas in liquid and headspace together, per litre of liquid. [volumes]
        celsius: Temperature. [degC]
        headspace_fraction: Share of the bottle that is gas. [-]

    Returns: Gauge pressure. [bar]

    Source: Henry's law, Sander 2015, and the ideal gas in the headspace.

    >>> round(float(gauge_bar(1, 4, 0.03)), 3)
    0.707
    """
    h, kelvin = np.asarray(headspace_fraction, float), np.asarray(celsius, float) + 273.15
    require_between(0.001, 0.9, "", headspace_fraction=float(h.min()), most_headspace_fraction=float(h.max()))
    amount = np.asarray(co2_volumes, float) * CO2_G_PER_VOLUME / CO2_MOLAR_MASS * (1 - h)
    return ATMOSPHERE_BAR * amount / (henry(celsius) * (1 - h) + h / (GAS_CONSTANT * kelvin))


@dataclass(frozen=True, slots=True)
class Gas:
    """Gas in a bottle."""

    co2_volumes: float  #: Liquid and headspace together. [volumes]
    air_atm: float = 1.0  #: Air left in the headspace, at the temperature of filling. [atm]


def gauge_of(gas: Gas, celsius: float, filled_at_c: float, headspace_fraction: float) -> float:
    """Pressure in a bottle that may have been burped: gas plus what air is left. [bar]"""
    air = gas.air_atm * (celsius + 273.15) / (filled_at_c + 273.15)
    return float(gauge_bar(gas.co2_volumes, celsius, headspace_fraction)) + ATMOSPHERE_BAR * (air - 1)


def burp(gas: Gas, celsius: float, filled_at_c: float, headspace_fraction: float) -> Gas:
    """Let the headspace, gas and air in proportion, down to one atmosphere.

    Returns: What is left; a bottle without overpressure stays as it is. It buys a day or two: only cold stops it.
    """
    over = gauge_of(gas, celsius, filled_at_c, headspace_fraction) / ATMOSPHERE_BAR
    if over <= 0:
        return gas
    left = 1 / (1 + over)
    partial = float(gauge_bar(gas.co2_volumes, celsius, headspace_fraction)) / ATMOSPHERE_BAR
    moles = partial * (1 - left) * headspace_fraction / (GAS_CONSTANT * (celsius + 273.15))
    lost = moles * CO2_MOLAR_MASS / CO2_G_PER_VOLUME / (1 - headspace_fraction)
    return Gas(gas.co2_volumes - lost, gas.air_atm * left)
