"""Mild Ladder: guided troubleshooting playbooks, ordered by risk and effort, measured on logged cases."""

__version__ = "0.1.0"
