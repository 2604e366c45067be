#!/usr/bin/env python3
"""Django's command line for this project."""

import os
import sys


def main() -> None:
    os.environ.setdefault("DJANGO_SETTINGS_MODULE", "northfold.config.settings")
    from django.core.management import execute_from_command_line
    from django.db import DatabaseError

    from northfold.config.data_folder import DataFault

    try:
        execute_from_command_line(sys.argv)
    except DataFault as error:
        sys.exit(str(error))
    except DatabaseError as error:
        from northfold.web import faults

        fault = faults.of(error)
        if fault is None:
            raise
        sys.exit(faults.line(fault))


if __name__ == "__main__":
    main()
