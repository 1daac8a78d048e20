"""How the parts of a build-up sentence stand on the page. Written here and not as a template: a page has hundreds."""

from __future__ import annotations

from functools import lru_cache

from django import template
from django.utils.html import escape, format_html, format_html_join
from django.utils.safestring import SafeString

from ashfell.core.unit.say.writer import Action, Options, Slot

register = template.Library()


@register.simple_tag
def spoken(part: str | Slot | Action) -> SafeString:
    """Words, an input, a choice or a button of a sentence."""
    if isinstance(part, str):
        return escape(part)
    if isinstance(part, Action):
        return _button(part)
    if part.kind == "choice":
        return _choice(part)
    return _colour(part) if part.kind == "colour" else _input(part)


def _colour(entry: Slot) -> SafeString:
    """A colour is picked, or typed beside that."""
    picker = '<input class="entry" type="color" data-entry="{}" value="{}" aria-label="{}, picked"> {}'
    return format_html(picker, entry.entry, entry.value, entry.label, _input(entry))


def _choice(entry: Slot) -> SafeString:
    return format_html(
        '<select class="entry" id="list-{0}" data-entry="{0}" aria-label="{1}">{2}</select>',
        entry.entry,
        entry.label,
        options(entry.options, entry.value),
    )


@register.simple_tag
@lru_cache(maxsize=512)
def options(choices: Options, chosen: str) -> SafeString:
    """The options of a choice."""
    return format_html_join(
        "",
        '<option value="{}"{}>{}</option>',
        ((key, " selected" if key == chosen else "", words) for key, words in choices),
    )


def _input(entry: Slot) -> SafeString:
    return format_html(
        '<input class="entry" type="text" inputmode="{1}" autocomplete="off" spellcheck="false" id="list-{0}" '
        'data-entry="{0}" value="{2}" placeholder="{3}" title="{4}" aria-label="{5}" size="{6}"{7}>',
        entry.entry,
        "decimal" if entry.kind == "number" else "text",
        entry.value,
        entry.hint,
        entry.title,
        entry.label,
        entry.size,
        format_html(' data-typed="{}"', entry.typed) if entry.typed else "",
    )


PAGES = {"catalogue": "hardware/", "publish": "hardware/publish/"}
"""The pages of a unit that an action goes to."""


def _button(action: Action) -> SafeString:
    if action.looks in PAGES:
        return format_html(
            '<a class="quiet small-action" href="{}?at={}" aria-label="{}">{}</a>',
            PAGES[action.looks],
            action.entry,
            action.label,
            action.words,
        )
    if action.looks != "set":
        return format_html(
            '<button type="button" class="quiet small-action" data-{}="{}" aria-label="{}">{}</button>',
            action.looks,
            action.entry,
            action.label,
            action.words,
        )
    return format_html(
        '<button type="button" class="quiet small-action" data-set="{0}" data-value="{1}"{4} aria-label="{2}" '
        'title="{2}">{3}</button>',
        action.entry,
        action.value,
        action.label,
        action.words,
        format_html(' data-points="{}"', action.points) if action.points else "",
    )
