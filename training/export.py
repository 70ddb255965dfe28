"""From trained networks to files that the application loads: ONNX with weights in half precision, and a model card."""

from __future__ import annotations

import hashlib
import json
from pathlib import Path
from typing import Any

import numpy as np
import onnx
import torch
from onnx import helper, numpy_helper
from torch import Tensor, nn

from mosskeeper.core.reading.classes import OF_FIGURE, OF_HEAD, OF_PICTURE, PARTS
from mosskeeper.core.reading.head_crop import CONTEXT, SIDE
from training.drawings import Population
from training.fit import networks
from training.networks import POOLED
from training.samples import FACE_MIDDLE, FACE_SPREAD, LAB, LAB_MIDDLE, LAB_SPREAD

_OPSET = 17
_SMALL = 64  # values: smaller tensors stay in single precision


def trained(checkpoint: Path, kind: str) -> nn.ModuleDict:
    """The running mean of a checkpoint's weights, ready to be used."""
    nets = networks(kind)
    nets.load_state_dict(torch.load(checkpoint, weights_only=True)["mean"])
    return nets.eval()


def facts_of(folder: Path, population: Population, without: tuple[str, str] | None) -> dict[str, Any]:
    """What the card says of data and training."""
    told = {}
    for kind in ("scene", "head"):
        kept = torch.load(folder / f"{kind}.pt", weights_only=True)
        told[kind] = {
            "parameters": sum(p.numel() for p in networks(kind).parameters()),
            "steps": kept["steps"],
            "minutes": round(kept["trained"] / 60, 1),
        }
    return {
        "data": {
            "source": "drawings of the illustrator, see training/people.py",
            "seed": population.seed,
            "persons": population.persons,
            "drawings": population.persons * population.each,
            "without": list(without or ()),
        },
        "training": told,
        "limits": "Knows the illustrator's drawings, and flat, line and silhouette figures made from them. Photographs and other hands "
        "are outside: confidence falls there, and points are to be placed by hand.",
    }


def _write(net: nn.Module, inputs: dict[str, Tensor], outputs: list[str], sized: bool, path: Path) -> None:
    axes: dict[str, dict[int, str]] = {name: {0: "n"} for name in (*inputs, *outputs)}
    if sized:
        axes["x"] |= {2: "h", 3: "w"}
        for name, k in (("fine", 2), ("coarse", 4), ("features", 4)):
            axes[name] |= {2: f"h{k}", 3: f"w{k}"}
    torch.onnx.export(
        net,
        tuple(inputs.values()),
        str(path),
        input_names=list(inputs),
        output_names=outputs,
        dynamic_axes=axes,
        opset_version=_OPSET,
        dynamo=False,
    )
    model = onnx.load(str(path))
    halve(model)
    onnx.save(model, str(path))


def halve(model: onnx.ModelProto) -> None:
    """Stores large weights in half precision, with a cast that runtimes fold away when they load; in place."""
    casts = []
    for tensor in model.graph.initializer:
        values = numpy_helper.to_array(tensor)
        if values.dtype == np.float32 and values.size >= _SMALL:
            name = tensor.name
            tensor.CopyFrom(numpy_helper.from_array(values.astype(np.float16), f"{name}_half"))
            casts.append(helper.make_node("Cast", [f"{name}_half"], [name], to=onnx.TensorProto.FLOAT))
    for node in reversed(casts):
        model.graph.node.insert(0, node)


def export(folder: Path, target: Path, facts: dict[str, Any]) -> None:
    """Writes scene, figure and head networks and their card into `target`.

    folder : where the checkpoints are. facts : what the card says of data, training and held-out figures.
    """
    target.mkdir(parents=True, exist_ok=True)
    write_scene(trained(folder / "scene.pt", "scene"), target)
    write_head(trained(folder / "head.pt", "head"), target)
    write_card(target, facts)


def write_scene(nets: nn.ModuleDict, target: Path) -> None:
    outputs = ["fine", "coarse", "features", "whole", "picture"]
    _write(nets["scene"], {"x": torch.rand(1, 3, 176, 144)}, outputs, True, target / "scene.onnx")
    _write(nets["figure"], {"seen": torch.rand(2, POOLED)}, ["named"], False, target / "figure.onnx")


def write_head(nets: nn.ModuleDict, target: Path) -> None:
    inputs = {"x": torch.rand(1, 3, SIDE, SIDE), "context": torch.rand(1, CONTEXT)}
    _write(nets["head"], inputs, ["heat", "vector"], False, target / "head.onnx")


def write_close(net: nn.Module, target: Path) -> None:
    """The network of `training.head_network`, without what only its training needs."""

    class Told(nn.Module):
        def __init__(self) -> None:
            super().__init__()
            self.net = net

        def forward(self, x: Tensor) -> tuple[Tensor, ...]:
            at, spread, _, told, identity, _ = self.net(x)
            return at, spread, told, identity

    _write(Told(), {"x": torch.rand(2, 3, SIDE, SIDE)}, ["at", "spread", "told", "identity"], False, target / "close.onnx")


def write_card(target: Path, facts: dict[str, Any]) -> None:
    """The model card beside the three files; its version is a digest of them."""
    files = {name: (target / name).read_bytes() for name in ("scene.onnx", "figure.onnx", "head.onnx")}
    card = {
        "version": hashlib.sha256(b"".join(files.values())).hexdigest()[:12],
        "bytes": {name: len(content) for name, content in files.items()},
        "parts": list(PARTS),
        "of_picture": {name: list(values) for name, values in OF_PICTURE.items()},
        "of_figure": {name: list(values) for name, values in OF_FIGURE.items()},
        "of_head": {name: list(values) for name, values in OF_HEAD.items()},
        "scales": {
            "lab": LAB,
            "lab_middle": LAB_MIDDLE.tolist(),
            "lab_spread": LAB_SPREAD,
            "face_middle": FACE_MIDDLE.tolist(),
            "face_spread": FACE_SPREAD.tolist(),
        },
        **facts,
    }
    (target / "card.json").write_text(json.dumps(card, indent=1) + "\n")


def add_to_card(target: Path, facts: dict[str, Any]) -> None:
    """Adds what is known only after the weights are written; the version follows, since readings follow from it too."""
    card = {**json.loads((target / "card.json").read_text()), **facts}
    card["version"] = hashlib.sha256(json.dumps(card, sort_keys=True).encode()).hexdigest()[:12]
    (target / "card.json").write_text(json.dumps(card, indent=1) + "\n")
