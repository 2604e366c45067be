"""Parts of addresses: the number of a row, which is never longer than a database counts."""

from django.urls.converters import IntConverter


class RowConverter(IntConverter):
    """A row's number: an address with a longer one leads nowhere, instead of into the database."""

    regex = "[0-9]{1,15}"
