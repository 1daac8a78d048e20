"""The unit page: what a change did, and where a section is taken."""

import pytest
from django.urls import reverse


@pytest.mark.django_db
def test_the_page_tells_what_a_change_did_and_a_wrong_place_of_a_section(signed_in, project):
    address = reverse("unit-edit", args=[project.pk, "clubroom-window"])
    shown = signed_in.post(address, {"entry": "frame.face", "value": "70", "keep": "0"}).content.decode()
    assert "Lights across: 4 of 732.5 became 4 of 727.5 mm clear. Lights up: 1780 became 1760 mm clear." in shown
    look = {"entry": "", "value": "", "keep": "0", "side": "across"}
    assert 'value="640"' in signed_in.post(address, look | {"cut": "@640"}).content.decode()
    assert 'data-cut="0.99"' in signed_in.post(address, look | {"cut": "@90 m"}).content.decode()
    wrong = signed_in.post(address, look | {"cut": "@near the top"})
    assert wrong.status_code == 422
    assert 'data-cut="0.5"' in signed_in.post(address, look | {"cut": "nan"}).content.decode()
    assert b'id="points"' not in signed_in.post(address, look | {"points": "frame.section"}).content
