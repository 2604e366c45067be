"""
Rows of long lists that are drawn once.

`{% drawn key … %}` … `{% enddrawn %}` draws what stands between once for each key, and shows it again for the same one.
The key must be everything that the row shows; nothing that is one visitor's own, such as a form's seal, may stand in
it.
"""

from collections import OrderedDict
from threading import Lock

from django import template
from django.template.base import FilterExpression, NodeList, Parser, Token
from django.utils.safestring import SafeString, mark_safe

register = template.Library()
# Rows that are kept drawn: some forty pages of lists.
MOST = 2_000

_drawn: OrderedDict[tuple[object, ...], SafeString] = OrderedDict()
_lock = Lock()


class Drawn(template.Node):
    def __init__(self, place: tuple[str, int], keys: list[FilterExpression], rows: NodeList) -> None:
        self.place, self.keys, self.nodelist = place, keys, rows

    def render(self, context: template.Context) -> SafeString:
        key = (*self.place, *(each.resolve(context) for each in self.keys))
        with _lock:
            known = _drawn.get(key)
            if known is not None:
                _drawn.move_to_end(key)
                return known
        found = mark_safe(self.nodelist.render(context))  # what its own template has escaped
        with _lock:
            _drawn[key] = found
            while len(_drawn) > MOST:
                _drawn.popitem(last=False)
        return found


@register.tag
def drawn(parser: Parser, token: Token) -> Drawn:
    """Draw what stands up to `enddrawn` once for each key."""
    _, *keys = token.split_contents()
    if not keys:
        raise template.TemplateSyntaxError("Say by what a row is known: {% drawn row.key %}")
    rows = parser.parse(("enddrawn",))
    parser.delete_first_token()
    return Drawn((str(parser.origin), token.lineno or 0), [parser.compile_filter(key) for key in keys], rows)
