"""Loaded before anything of the application: here what says that it is frozen, is."""

from stirrup.core import record

record.FROZEN = True
