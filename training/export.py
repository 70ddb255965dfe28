"""From trained networks to files that the application loads: ONNX with weights in half precision, arrays, and a model card."""

from __future__ import annotations

import hashlib
import json
from pathlib import Path
from typing import Any

import numpy as np
import onnx
import torch
from numpy.typing import NDArray
from onnx import helper, numpy_helper
from torch import Tensor, nn

from mosskeeper.core.reading.classes import OF_FIGURE, OF_HEAD, OF_PICTURE, PARTS
from mosskeeper.core.reading.head_crop import SIDE
from training.drawings import Population
from training.fit import networks
from training.head_network import TOLD, CloseNet
from training.heads import HeadPopulation
from training.networks import POOLED
from training.samples import FACE_MIDDLE, FACE_SPREAD, LAB, LAB_MIDDLE, LAB_SPREAD

_OPSET = 17
_SMALL = 64  # values: smaller tensors stay in single precision


def trained(checkpoint: Path) -> nn.ModuleDict:
    """The running mean of a checkpoint's weights, ready to be used."""
    nets = networks()
    nets.load_state_dict(torch.load(checkpoint, weights_only=True)["mean"])
    return nets.eval()


def facts_of(folder: Path, population: Population, heads: HeadPopulation, drawn: int) -> dict[str, Any]:
    """What the card says of data and training. drawn : heads that were trained on."""
    told = {}
    for kind, net in (("scene", networks()), ("close", CloseNet())):
        kept = torch.load(folder / f"{kind}.pt", weights_only=True)
        told[kind] = {
            "parameters": sum(p.numel() for p in net.parameters()),
            "steps": kept["steps"],
            "minutes": round(kept["trained"] / 60, 1),
        }
    return {
        "data": {
            "source": "drawings of the illustrator, see training/people.py",
            "seed": population.seed,
            "persons": population.persons,
            "drawings": population.persons * population.each,
            "heads seed": heads.seed,
            "heads": drawn,
            "without": list(heads.without or ()),
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


FILES = ("scene.onnx", "figure.onnx", "close.onnx", "close.npz")


def export(folder: Path, target: Path, arrays: dict[str, NDArray[Any]], facts: dict[str, Any]) -> None:
    """Writes all networks, the arrays and their card into `target`.

    folder : where the checkpoints are. arrays : what `head_finish` fitted. facts : what the card says of data and training.
    """
    target.mkdir(parents=True, exist_ok=True)
    write_scene(trained(folder / "scene.pt"), target)
    write_close(close_network(folder / "close.pt"), arrays, target)
    write_card(target, facts)


def close_network(checkpoint: Path) -> CloseNet:
    """The running mean of a checkpoint's weights, ready to be used."""
    net = CloseNet()
    net.load_state_dict(torch.load(checkpoint, weights_only=True)["mean"])
    return net.eval()


def write_scene(nets: nn.ModuleDict, target: Path) -> None:
    outputs = ["fine", "coarse", "features", "whole", "picture"]
    _write(nets["scene"], {"x": torch.rand(1, 3, 176, 144)}, outputs, True, target / "scene.onnx")
    _write(nets["figure"], {"seen": torch.rand(2, POOLED)}, ["named"], False, target / "figure.onnx")


def write_close(net: nn.Module, arrays: dict[str, NDArray[Any]], target: Path) -> None:
    """The network of `head_network` without what only its training needs, and the arrays, matrices in half precision."""

    class Told(nn.Module):
        def __init__(self) -> None:
            super().__init__()
            self.net = net

        def forward(self, x: Tensor) -> tuple[Tensor, ...]:
            at, spread, _, told, identity, _ = self.net(x)
            return at, spread, told, identity

    _write(Told(), {"x": torch.rand(2, 3, SIDE, SIDE)}, ["at", "spread", "told", "identity"], False, target / "close.onnx")
    stored = {name: np.asarray(value, np.float16 if value.ndim > 1 else np.float32) for name, value in arrays.items()}
    np.savez(target / "close.npz", **stored)  # type: ignore[arg-type]


def write_card(target: Path, facts: dict[str, Any]) -> None:
    """The model card beside the files; its version is a digest of them."""
    files = {name: (target / name).read_bytes() for name in FILES}
    card = {
        "version": hashlib.sha256(b"".join(files.values())).hexdigest()[:12],
        "bytes": {name: len(content) for name, content in files.items()},
        "parts": list(PARTS),
        "of_picture": {name: list(values) for name, values in OF_PICTURE.items()},
        "of_figure": {name: list(values) for name, values in OF_FIGURE.items()},
        "of_head": {name: list(values) for name, values in OF_HEAD.items()},
        "head_sizes": list(TOLD),
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
