"""Intake as Django knows it: its tables keep the name that they have always had."""

from django.apps import AppConfig


class IntakeConfig(AppConfig):
    """Mailboxes, drops and uploads; owns messages and files."""

    name = "veridox.service.intake"
    label = "mail"
