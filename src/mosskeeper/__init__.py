"""Moss Keeper."""

import os

# onnxruntime looks up a telemetry host as soon as it is imported, in native code: this has to stand before
os.environ["ORT_DISABLE_TELEMETRY"] = "1"
