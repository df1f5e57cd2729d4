"""A browser for tests: Debian's Chromium, without a window, which may ask this machine alone."""

import base64
import contextlib
import io
import json
import shutil
import tempfile
import time

import numpy as np
import pytest
from PIL import Image

BROWSER, DRIVER = shutil.which("chromium"), shutil.which("chromedriver")
needs_browser = pytest.mark.skipif(not (BROWSER and DRIVER), reason="needs a browser: apt-get install chromium chromium-driver")
_OPTIONS = (
    "--headless", "--no-sandbox", "--disable-gpu", "--disable-quic", "--no-first-run", "--disable-background-networking",
    "--disable-component-update", "--disable-sync", "--disable-dev-shm-usage", "--hide-scrollbars", "--force-device-scale-factor=1",
)  # fmt: skip


@contextlib.contextmanager
def browsing(width=1280, height=800):
    """A browser with nothing of anybody's."""
    from selenium import webdriver
    from selenium.webdriver.chrome.options import Options
    from selenium.webdriver.chrome.service import Service

    folder = tempfile.mkdtemp(prefix="avlet-browser-")
    options = Options()
    options.binary_location = BROWSER
    for one in (*_OPTIONS, f"--user-data-dir={folder}", f"--window-size={width},{height}"):
        options.add_argument(one)
    options.set_capability("goog:loggingPrefs", {"browser": "ALL", "performance": "ALL"})
    made = webdriver.Chrome(options=options, service=Service(DRIVER))
    made.set_script_timeout(30)
    try:
        yield made
    finally:
        made.quit()
        shutil.rmtree(folder, ignore_errors=True)


def forget(browser, port):
    """Let a browser forget what pages of a server kept, from a page that keeps nothing itself and has nothing under way."""
    browser.get(f"http://127.0.0.1:{port}/pages/look.css")
    browser.execute_script("localStorage.clear()")


def until(true, seconds=30.0, every=0.05):
    """Wait for something to be so."""
    end = time.monotonic() + seconds
    while not (found := true()):
        assert time.monotonic() < end, "it did not come"
        time.sleep(every)
    return found


def graphics_shown(browser, graphics, size=(1920, 1080)):
    """What titles on air show, each in its whole frame, premultiplied: (height, width, 4) by title. ``graphics`` is a list of them in JavaScript.

    Their canvas is only as large as what they cover; where it lies in the frame is read off the page.
    """
    told = browser.execute_script(
        f"""return {graphics}.map((one) => {{
          const canvas = one.shadowRoot.querySelector('canvas'), look = canvas.style;
          return [canvas.width ? canvas.toDataURL('image/png') : '', [look.left, look.top, look.width, look.height].map(parseFloat)];
        }})"""
    )
    found = []
    for data, (left, top, wide, high) in told:
        whole = np.zeros((size[1], size[0], 4))
        if data:
            rgba = np.asarray(Image.open(io.BytesIO(base64.b64decode(data.partition(",")[2]))).convert("RGBA")).astype(np.float64)
            rgba[..., :3] = (rgba[..., :3] * rgba[..., 3:] / 255).round()
            x, y = left * size[0] / 100, top * size[1] / 100
            assert abs(x - round(x)) < 0.02 and abs(y - round(y)) < 0.02, "on whole px"
            assert abs(wide * size[0] / 100 - rgba.shape[1]) < 0.02 and abs(high * size[1] / 100 - rgba.shape[0]) < 0.02, (
                "as large as it is shown"
            )
            whole[round(y) : round(y) + rgba.shape[0], round(x) : round(x) + rgba.shape[1]] = rgba
        found.append(whole)
    return found


def hosts_asked(browser):
    """The hosts that a browser has asked anything of."""
    from urllib.parse import urlsplit

    asked = set()
    for entry in browser.get_log("performance"):
        message = json.loads(entry["message"])["message"]
        if message["method"] == "Network.requestWillBeSent":
            url = urlsplit(message["params"]["request"]["url"])
            if url.scheme in ("http", "https", "ws", "wss"):
                asked.add(url.hostname)
    return asked
