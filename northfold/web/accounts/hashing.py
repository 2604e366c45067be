"""Passwords are hashed one at a time, so that people who guess leave a core to people who bake."""

import threading

from django.contrib.auth.hashers import PBKDF2PasswordHasher

_one_at_a_time = threading.Lock()


class SingleFilePBKDF2(PBKDF2PasswordHasher):
    """Django's own hash; whoever comes while another is being made waits for it."""

    def encode(self, password: str, salt: str, iterations: int | None = None) -> str:
        with _one_at_a_time:
            return super().encode(password, salt, iterations)
