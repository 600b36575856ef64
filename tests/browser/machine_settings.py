"""The settings of a server of its own in a test on several machines: as they are, with weather."""

from voltaje.web.settings import *  # noqa: F403
from voltaje.web.settings import MIDDLEWARE as OWN

MIDDLEWARE = ["browser.weather.Weather", *OWN]
