"""`./moss train-reader`: draws, trains, exports. Stopped at any point, the same command goes on from there."""

from __future__ import annotations

import argparse
import multiprocessing as mp
import os
import time
from pathlib import Path

from mosskeeper.core.reading.weights import FOLDER
from mosskeeper.settings import Settings
from training.drawings import Population, make

TRAINED_ON = Population(seed=2026, persons=2000, each=4)
LEFT_OUT = ("linocut", "kite loft")  # the finish and the place that the second run never sees
_MINUTES = {False: 80.0, True: 25.0}


def _fit(kind: str, drawings: Path, folder: Path, minutes: float, without: tuple[str, str] | None) -> None:
    import torch

    from training.fit import Fit

    torch.set_num_threads(1)  # one core each: threads of one run would wait for each other
    try:
        Fit(kind, drawings, folder, minutes * 60, without).run()
    except KeyboardInterrupt:
        print(f"{kind}: stopped; the same command goes on from here")


def train(data: Path, minutes: float, without: tuple[str, str] | None, population: Population) -> None:
    """Trains both networks side by side and exports them."""
    drawings, folder = data / "drawings", data / ("left-out" if without else "run")
    make(drawings, population, workers=os.cpu_count() or 1)
    began = time.time()
    context = mp.get_context("spawn")
    runs = [context.Process(target=_fit, args=(kind, drawings, folder, minutes, without)) for kind in ("scene", "head")]
    for run in runs:
        run.start()
    for run in runs:
        run.join()
    if any(run.exitcode for run in runs):
        raise SystemExit("training stopped with an error; the checkpoints are kept")
    from training.calibrate import calibrate
    from training.export import add_to_card, export, facts_of
    from training.refine import refine

    refine(drawings, folder, without)
    target = folder / "weights" if without else FOLDER
    export(folder, target, facts_of(folder, population, without))
    add_to_card(target, calibrate(target))
    print(f"trained in {(time.time() - began) / 60:.0f} minutes; the weights are in {target}")


def main() -> None:
    parser = argparse.ArgumentParser(prog="moss train-reader", description="Train the reader's networks on drawings of the illustrator.")
    parser.add_argument(
        "--left-out", action="store_true", help="a shorter run without one finish and one place, to see how it carries over"
    )
    parser.add_argument("--minutes", type=float, help="of training on two cores (80; with --left-out 25)")
    parser.add_argument("--persons", type=int, default=TRAINED_ON.persons, help="persons drawn, each four times")
    parser.add_argument("--data", type=Path, help="where drawings and checkpoints are (the data folder's reader)")
    arguments = parser.parse_args()
    data = arguments.data or Settings.from_environment().data / "reader"
    population = Population(TRAINED_ON.seed, arguments.persons, TRAINED_ON.each)
    train(data, arguments.minutes or _MINUTES[arguments.left_out], LEFT_OUT if arguments.left_out else None, population)


if __name__ == "__main__":
    main()
