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
from training.heads import FAMILY, SHARD, HeadPopulation, draw_heads

TRAINED_ON = Population(seed=2026, persons=2000, each=4)
HEADS_TRAINED_ON = HeadPopulation(seed=7001, persons=3600, shards=560)
LEFT_OUT = ("linocut", "kite loft")  # the finish and the place that the second run never sees
_MINUTES = {False: 80.0, True: 25.0}


def train(data: Path, minutes: float, population: Population, of_heads: HeadPopulation) -> None:
    """Trains the networks of pictures and of heads side by side, fits what stands on the latter, and exports all of it."""
    without = of_heads.without
    drawings, folder = data / "drawings", data / ("left-out" if without else "run")
    heads = folder / "heads" if without else data / "heads"
    workers = os.cpu_count() or 1
    make(drawings, population, workers)
    draw_heads(heads, of_heads, workers)
    from training.fit import fit_scene
    from training.head_fit import fit_close

    began = time.time()
    context = mp.get_context("spawn")
    runs = [
        context.Process(target=fit_scene, args=(drawings, folder, minutes, without)),
        context.Process(target=fit_close, args=(heads, folder, minutes)),
    ]
    for run in runs:
        run.start()
    for run in runs:
        run.join()
    if any(run.exitcode for run in runs):
        raise SystemExit("training stopped with an error; the checkpoints are kept")
    from training.calibrate import calibrate
    from training.export import add_to_card, close_network, export, facts_of
    from training.head_finish import finish
    from training.head_samples import Heads

    target = folder / "weights" if without else FOLDER
    known = Heads.open(heads)
    arrays = finish(known, close_network(folder / "close.pt"))
    drawn = len(known.columns["person"]) - len(known.held_back)
    export(folder, target, arrays, facts_of(folder, population, of_heads, drawn))
    add_to_card(target, calibrate(target))
    print(f"trained in {(time.time() - began) / 60:.0f} minutes; the weights are in {target}")


def main() -> None:
    parser = argparse.ArgumentParser(prog="moss train-reader", description="Train the reader's networks on drawings of the illustrator.")
    parser.add_argument(
        "--left-out", action="store_true", help="a shorter run without one finish and one place, to see how it carries over"
    )
    parser.add_argument("--minutes", type=float, help="of training on two cores (80; with --left-out 25)")
    parser.add_argument("--persons", type=int, default=TRAINED_ON.persons, help="persons drawn, each four times")
    parser.add_argument("--heads", type=int, default=HEADS_TRAINED_ON.shards * SHARD, help="heads drawn, about seven of a person")
    parser.add_argument("--data", type=Path, help="where drawings and checkpoints are (the data folder's reader)")
    arguments = parser.parse_args()
    data = arguments.data or Settings.from_environment().data / "reader"
    population = Population(TRAINED_ON.seed, arguments.persons, TRAINED_ON.each)
    shards = max(1, arguments.heads // SHARD)
    persons = min(HEADS_TRAINED_ON.persons, max(FAMILY, arguments.heads // 7 // FAMILY * FAMILY))
    of_heads = HeadPopulation(HEADS_TRAINED_ON.seed, persons, shards, LEFT_OUT if arguments.left_out else None)
    train(data, arguments.minutes or _MINUTES[arguments.left_out], population, of_heads)


if __name__ == "__main__":
    main()
