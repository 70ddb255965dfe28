"""How a headless Chromium is started here: without a sandbox of its own, and without calling anywhere."""

EXECUTABLE = "/usr/bin/chromium-headless-shell"
FLAGS = [
    "--no-sandbox",
    "--disable-gpu",
    "--disable-quic",
    "--no-first-run",
    "--disable-background-networking",
    "--disable-component-update",
    "--disable-sync",
]
