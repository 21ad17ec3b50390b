"""The program on a phone's home screen: a manifest, and icons of the sizes that it names."""

from io import BytesIO

from PIL import Image


def test_the_manifest_names_icons_that_are_there(drawn_once):
    page = drawn_once.get("/")
    assert 'rel="manifest"' in page.text
    manifest = drawn_once.get("/static/manifest.webmanifest")
    assert manifest.headers["content-type"].startswith("application/manifest+json")
    told = manifest.json()
    assert drawn_once.get(told["start_url"]).status_code == 200
    drawn = [icon for icon in told["icons"] if icon["type"] == "image/png"]
    assert {"192x192", "512x512"} <= {icon["sizes"] for icon in drawn}
    assert any(icon.get("purpose") == "maskable" for icon in drawn)
    for icon in drawn:
        picture = Image.open(BytesIO(drawn_once.get(icon["src"]).content))
        assert "{}x{}".format(*picture.size) == icon["sizes"]


def test_the_policy_lets_the_manifest_in_and_nothing_from_elsewhere(drawn_once):
    policy = drawn_once.get("/").headers["content-security-policy"]
    assert "manifest-src 'self'" in policy
    assert "default-src 'none'" in policy
