"""The day: several makes in one kitchen."""
