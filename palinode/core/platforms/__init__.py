"""Content platforms: what tables each keeps its items in, so that what a database holds can be counted by name."""

from palinode.core.platforms import drupal, listed, wordpress

ALL = (wordpress.PLATFORM, drupal.PLATFORM, listed.PLATFORM)
