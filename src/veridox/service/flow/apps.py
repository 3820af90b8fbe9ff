"""The app; when it is there, plug-ins are."""

from django.apps import AppConfig


class FlowConfig(AppConfig):
    """Has plug-ins in the language and among drivers before anything is checked or opened."""

    name = "veridox.service.flow"

    def ready(self) -> None:
        """Called once, when all apps are loaded."""
        from veridox.service.wiring import plug_in  # models are there only now

        plug_in()
