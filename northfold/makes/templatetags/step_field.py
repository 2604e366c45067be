"""A field of a step drawn in Python: a page has a score of them, and a template for each is slow."""

from django import template
from django.template.context import RequestContext
from django.urls import reverse
from django.utils.html import format_html, format_html_join
from django.utils.safestring import SafeString

from northfold.core.method.choices.fields import letters
from northfold.makes.stages.fields import Field

register = template.Library()

_EMPTY = SafeString("")
_FORM = (
    '<form class="{}" method="post" action="{url}" hx-post="{url}"{} hx-target="#method" hx-swap="morph:outerHTML"{}>'
    '<input type="hidden" name="csrfmiddlewaretoken" value="{token}">'
    '<input type="hidden" name="step" value="{key}"><input type="hidden" name="field" value="{name}">'
    "{}</form>"
)


@register.simple_tag(takes_context=True)
def step_field(context: RequestContext, field: Field) -> SafeString:
    """A field that posts itself when it is changed, with its error and the way back to the plan's; or as text."""
    if not (context.get("can_edit") and context["may"]["edit_makes"]):
        shown = field.choices.get(field.value, field.value)
        unit = format_html(' <span class="quiet">{}</span>', field.unit) if field.unit else _EMPTY
        return format_html('<p class="step-read"><span class="quiet">{}</span> {}{}</p>', field.label, shown, unit)
    url = reverse(f"makes:{context['stage']}_edit", args=[context["make"].pk])
    sent = {"url": url, "token": context["csrf_token"], "key": field.step_key, "name": field.name}
    inside = format_html(
        '<label for="f-{}">{}</label>{}<button class="visually-hidden" tabindex="-1">Save</button>',
        field.id,
        field.label,
        _menu(field) if field.choices else _words(field) if field.is_words else _input(field),
    )
    form = format_html(
        _FORM,
        "step-field own" if field.is_own else "step-field",
        SafeString(' hx-trigger="change, submit"'),
        SafeString(' hx-sync="this:queue all" autocomplete="off"'),
        inside,
        **sent,
    )
    error = (
        format_html('<span class="error-text" id="e-{}">{}</span>', field.id, field.error) if field.error else _EMPTY
    )
    if not field.is_own:
        return form + error
    back = format_html(
        '<input type="hidden" name="value" value="">{}<button class="plain">Take the plan’s</button>', _yours(field)
    )
    return form + error + format_html(_FORM, "step-own", _EMPTY, _EMPTY, back, **sent)


def _menu(field: Field) -> SafeString:
    chosen = SafeString(" selected")
    rows = ((key, chosen if key == field.value else "", name) for key, name in field.choices.items())
    options = format_html_join("", '<option value="{}"{}>{}</option>', rows)
    return format_html('<select id="f-{}" name="value">{}</select>', field.id, options)


def _input(field: Field) -> SafeString:
    wrong = format_html(' aria-invalid="true" aria-describedby="e-{}"', field.id) if field.error else _EMPTY
    return format_html(
        '<span class="with-unit"><input id="f-{}" class="num" name="value" inputmode="decimal" value="{}"{}>'
        '<span class="unit">{}</span></span>',
        field.id,
        field.value,
        wrong,
        field.unit,
    )


def _words(field: Field) -> SafeString:
    longest = letters(field.name)
    return format_html('<input id="f-{}" name="value" value="{}" maxlength="{}">', field.id, field.value, longest)


def _yours(field: Field) -> SafeString:
    """That the value is the maker's own, and what the plan says, or said when it was set."""
    edited = field.edited
    if edited and edited.has_moved:
        said = f"Yours. The plan said {edited.replaced} when you set it, now {edited.plan_says}."
        return format_html('<span class="moved">{}</span>', said)
    says = f" The plan says {edited.plan_says}." if edited and edited.plan_says else ""
    return format_html('<span class="quiet">Yours.{}</span> ', says)
