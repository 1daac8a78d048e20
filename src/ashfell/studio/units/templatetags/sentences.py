"""How the parts of a build-up sentence stand on the page. Written here and not as a template: a page has hundreds."""

from __future__ import annotations

from functools import lru_cache

from django import template
from django.utils.html import format_html_join
from django.utils.safestring import SafeString

from ashfell.core.unit.say.writer import Action, Options, Sentence, Slot
from ashfell.studio.drawn import element, words

register = template.Library()
QUIET = {"type": "button", "class": "quiet small-action"}


@register.simple_tag
def said(sentence: Sentence | None) -> SafeString:
    """A sentence, part by part; nothing where there is none."""
    parts = sentence.spaced if sentence else []
    return SafeString("".join(f"{space}{spoken(part)}" for space, part in parts))


@register.simple_tag
def in_list(sentence: Sentence) -> SafeString:
    """A sentence of a build-up as an entry of its list, with what a change did to it."""
    told = SafeString("<br>".join(map(words, sentence.told)))
    inside = f"{said(sentence)}{element('p', {'class': 'told'}, told)}" if told else said(sentence)
    attributes = {
        "data-entry": sentence.entry,
        "data-about": sentence.about,
        "data-about-role": sentence.about_role or None,
        "id": f"says-{sentence.entry}",
        "class": "nested" if sentence.nested else None,
    }
    return element("li", attributes, SafeString(inside))


@register.simple_tag
def spoken(part: str | Slot | Action) -> SafeString:
    """Words, an input, a choice or a button of a sentence."""
    if isinstance(part, str):
        return words(part)
    if isinstance(part, Action):
        return _button(part)
    if part.kind == "choice":
        return _choice(part)
    return _colour(part) if part.kind == "colour" else _input(part)


def _colour(entry: Slot) -> SafeString:
    """A colour is picked, or typed beside that."""
    picker = element(
        "input",
        {
            "class": "entry",
            "type": "color",
            "data-entry": entry.entry,
            "value": entry.value,
            "aria-label": f"{entry.label}, picked",
        },
    )
    return SafeString(f"{picker} {_input(entry)}")


def _choice(entry: Slot) -> SafeString:
    chosen = {"class": "entry", "id": f"list-{entry.entry}", "data-entry": entry.entry, "aria-label": entry.label}
    return element("select", chosen, options(entry.options, entry.value))


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
    return element(
        "input",
        {
            "class": "entry",
            "type": "text",
            "inputmode": "decimal" if entry.kind == "number" else "text",
            "autocomplete": "off",
            "spellcheck": "false",
            "id": f"list-{entry.entry}",
            "data-entry": entry.entry,
            "value": entry.value,
            "placeholder": entry.hint,
            "title": entry.title,
            "aria-label": entry.label,
            "size": entry.size,
            "data-typed": entry.typed or None,
        },
    )


PAGES = {"catalogue": "hardware/", "publish": "hardware/publish/"}
"""The pages of a unit that an action goes to."""


def _button(action: Action) -> SafeString:
    inside, label = words(action.words), {"aria-label": action.label}
    if action.looks in PAGES:
        to = {"class": "quiet small-action", "href": f"{PAGES[action.looks]}?at={action.entry}"}
        return element("a", to | label, inside)
    if action.looks != "set":
        return element("button", QUIET | {f"data-{action.looks}": action.entry} | label, inside)
    does = {"data-set": action.entry, "data-value": action.value, "data-points": action.points or None}
    return element("button", QUIET | does | label | {"title": action.label}, inside)
