"""Puts registries, applications, belongings, references and use together to one survey; nothing else."""

from swept_shelf.core.survey.take import Progress, take_survey

__all__ = ["Progress", "take_survey"]
