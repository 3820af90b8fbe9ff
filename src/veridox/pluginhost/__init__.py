"""Plug-ins in child processes of their own: no secrets, no database, limits on time and memory."""

from veridox.pluginhost.asking import answered, ask, asked, asked_as_needed
from veridox.pluginhost.host import Described, PluginHost, PluginStoppedError

__all__ = [
    "Described",
    "PluginHost",
    "PluginStoppedError",
    "answered",
    "ask",
    "asked",
    "asked_as_needed",
]
