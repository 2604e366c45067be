"""The core's version: raised when a figure it computes changes."""

CORE_VERSION = "3"
