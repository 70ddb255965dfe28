import itertools

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from mosskeeper.core.diffusion.integrators import step
from mosskeeper.core.diffusion.noise import coloured
from mosskeeper.core.diffusion.palette_pull import PalettePull, recoloured
from mosskeeper.core.diffusion.posterior import Posterior, Segments
from mosskeeper.core.diffusion.schedule import karras
from mosskeeper.core.illustrator.description import Description, Part
from mosskeeper.core.illustrator.draw import draw
from mosskeeper.core.reading.palette import palette_distance, read_palette, transport_plan
from mosskeeper.core.recipe import Recipe
from mosskeeper.core.takes.beliefs import Beliefs

SHAPE = (12, 10)


def random_problem(seed: int, k: int = 4, n: int = 3) -> tuple[np.ndarray, Segments, np.ndarray]:
    rng = np.random.default_rng(seed)
    exemplars = rng.uniform(-1, 1, (k, *SHAPE, 3)).astype(np.float32)
    segments = Segments(rng.integers(0, n, SHAPE), n)
    return exemplars, segments, rng.normal(size=(*SHAPE, 3)).astype(np.float32)


@given(st.integers(0, 10_000), st.floats(0.02, 5))
def test_weights_sum_to_one_over_the_exemplars(seed: int, sigma: float) -> None:
    exemplars, segments, x = random_problem(seed)
    weights = Posterior(exemplars, segments).weights(x, sigma)
    assert np.allclose(weights.sum(0), 1, atol=1e-5)
    assert (weights >= 0).all()


@given(st.integers(0, 10_000), st.floats(0.02, 5))
def test_denoising_with_one_exemplar_returns_it(seed: int, sigma: float) -> None:
    exemplars, segments, x = random_problem(seed, k=1)
    assert np.allclose(Posterior(exemplars, segments)(x, sigma), exemplars[0], atol=1e-6)


@given(st.integers(0, 10_000), st.floats(0.02, 5))
def test_a_forbidden_exemplar_never_contributes(seed: int, sigma: float) -> None:
    exemplars, segments, x = random_problem(seed)
    prior = np.zeros((4, segments.n), np.float32)
    prior[2] = -1e5
    assert (Posterior(exemplars, segments, prior).weights(x, sigma)[2] == 0).all()


def test_at_low_noise_each_segment_follows_the_exemplar_it_is_near_to() -> None:
    exemplars, segments, _ = random_problem(3)
    chosen = [1, 3, 0]
    x = sum(exemplars[k] * (segments.labels == s)[..., None] for s, k in enumerate(chosen))
    weights = Posterior(exemplars, segments).weights(np.asarray(x, np.float32), 0.05)
    assert weights.argmax(0).tolist() == chosen


def test_at_high_noise_the_prior_rules() -> None:
    exemplars, segments, x = random_problem(5)
    odds = np.log(np.array([0.6, 0.2, 0.1, 0.1], np.float32))[:, None].repeat(segments.n, 1)
    weights = Posterior(exemplars, segments, odds).weights(x * 0, 200.0)
    assert np.allclose(weights[:, 0], [0.6, 0.2, 0.1, 0.1], atol=0.01)


def plain_weights(
    exemplars: np.ndarray, labels: np.ndarray, n: int, prior: np.ndarray, x: np.ndarray, sigma: float, temperature: float
) -> np.ndarray:
    """The formula of `Posterior`, pixel by pixel and segment by segment."""
    out = np.zeros((len(exemplars), n))
    for s in range(n):
        here = labels == s
        logits = []
        for k, exemplar in enumerate(exemplars):
            cost = 0.0 if not here.any() else np.mean([e @ e - 2 * (v @ e) for e, v in zip(exemplar[here], x[here], strict=True)])
            logits.append(prior[k, s] - cost / (2 * sigma * sigma * temperature))
        odds = np.exp(np.array(logits) - max(logits))
        out[:, s] = odds / odds.sum()
    return out


@settings(max_examples=40, deadline=None)
@given(st.integers(0, 10_000), st.floats(0.4, 4), st.floats(0.15, 1.2))
def test_the_weights_are_those_of_the_formula(seed: int, sigma: float, temperature: float) -> None:
    rng = np.random.default_rng(seed)
    labels, n = rng.integers(0, 3, (5, 4)), 4  # the fourth segment has no pixels
    exemplars, x = rng.uniform(-1, 1, (3, 5, 4, 3)).astype(np.float32), rng.normal(0, 2, (5, 4, 3)).astype(np.float32)
    prior = rng.normal(0, 1, (3, n)).astype(np.float32)
    got = Posterior(exemplars, Segments(labels, n), prior, temperature).weights(x, sigma)
    assert np.allclose(got, plain_weights(exemplars, labels, n, prior, x, sigma, temperature), atol=2e-4)


def test_the_mean_takes_each_pixel_from_its_own_segment() -> None:
    labels = np.array([[0, 1], [1, 0]])
    exemplars = np.stack([np.full((2, 2, 3), v, np.float32) for v in (-1.0, 1.0)])
    weights = np.array([[1.0, 0.25], [0.0, 0.75]], np.float32)
    assert np.allclose(Posterior(exemplars, Segments(labels, 2)).mean(weights)[..., 0], [[-1, 0.5], [0.5, -1]])


@given(st.integers(0, 1000))
def test_segment_means_are_those_of_plain_numpy(seed: int) -> None:
    rng = np.random.default_rng(seed)
    labels, values = rng.integers(0, 5, SHAPE), rng.normal(size=(2, SHAPE[0] * SHAPE[1])).astype(np.float32)
    means = Segments(labels, 7).means(values)
    for s in range(7):
        inside = values[:, labels.ravel() == s]
        assert np.allclose(means[:, s], inside.mean(1) if inside.size else 0, atol=1e-5)


@pytest.mark.parametrize("steps", [4, 20, 60])
def test_the_schedule_falls_from_its_start_to_zero(steps: int) -> None:
    sigmas = karras(steps)
    assert len(sigmas) == steps + 1
    assert (np.diff(sigmas) < 0).all()
    assert sigmas[0] == pytest.approx(5.0)
    assert sigmas[-2] == pytest.approx(0.03)
    assert sigmas[-1] == 0


def test_noise_has_variance_one_and_a_part_that_is_constant_over_segments() -> None:
    labels = np.repeat(np.arange(4), 64)[:, None].repeat(256, 1)
    fields = np.stack([coloured(np.random.default_rng(s), labels, 4) for s in range(20)])
    assert fields.var() == pytest.approx(1, abs=0.15)
    per_segment = np.stack([fields[:, labels == s].mean(1) for s in range(4)])
    assert per_segment.var() > 0.3


@pytest.mark.parametrize("sampler", ["euler", "heun", "ancestral"])
def test_every_sampler_ends_at_the_only_exemplar(sampler: str) -> None:
    target = np.random.default_rng(1).uniform(-1, 1, (*SHAPE, 3)).astype(np.float32)
    rng = np.random.default_rng(2)
    sigmas = karras(12)
    x = rng.normal(size=target.shape).astype(np.float32) * np.float32(sigmas[0])
    distances = []
    for a, b in itertools.pairwise(sigmas):
        x = step(x, target, a, b, sampler, lambda _x, _s: target, lambda: rng.normal(size=target.shape).astype(np.float32))
        distances.append(float(np.abs(x - target).mean()))
    assert distances[-1] < 1e-6
    assert distances[5] < distances[0]


def test_guidance_zero_leaves_the_prior_and_more_of_it_follows_the_words() -> None:
    shares = [Beliefs(Recipe(words="at dusk", guidance=g)).probabilities("time")["dusk"] for g in (0, 1, 3, 7, 12)]
    assert shares[0] == Beliefs(Recipe(words="")).probabilities("time")["dusk"]
    assert shares == sorted(shares)
    assert shares[3] > 0.99


def test_negative_words_and_denied_words_make_a_thing_rare() -> None:
    plain = Beliefs(Recipe(words="a girl")).probabilities("weather")["rain"]
    for recipe in (Recipe(words="a girl", negative="rain"), Recipe(words="a girl without rain")):
        assert Beliefs(recipe).probabilities("weather")["rain"] < plain / 100


def drawn_from(beliefs: Beliefs, seed: int, k: int) -> list[Description]:
    rng = np.random.default_rng(seed)
    return beliefs.exemplars(beliefs.composition(rng), rng, k)


@pytest.mark.statistics
@pytest.mark.parametrize(("words", "part"), [("a girl with a cat", Part.COMPANION), ("a woman holding a lantern", Part.PROP)])
def test_what_words_name_is_in_the_frame(words: str, part: Part) -> None:
    beliefs = Beliefs(Recipe(words=f"{words} in the kitchen", guidance=12))
    found = [(draw(drawn_from(beliefs, seed, 1)[0], (64, 80)).labels == part).any() for seed in range(24)]
    assert all(found)


def test_a_framing_that_is_named_stays_whatever_it_leaves_out() -> None:
    beliefs = Beliefs(Recipe(words="a girl with a cat, half figure", guidance=12))
    assert {drawn_from(beliefs, seed, 1)[0].layout.framing for seed in range(8)} == {"half"}


def test_named_attributes_are_found_in_the_exemplars() -> None:
    beliefs = Beliefs(Recipe(words="an old man with a beard in a plum night cloak, on the library stair by night, full figure", guidance=9))
    for seed in range(5):
        drawn = drawn_from(beliefs, seed, 12)
        assert {d.subject for d in drawn} == {"old man"}
        assert {d.layout.framing for d in drawn} == {"full"}
        assert sum(d.outfit == "night cloak" and d.place == "library stair" and d.facial_hair == "beard" for d in drawn) >= 11


def test_all_exemplars_of_a_take_share_one_layout() -> None:
    drawn = drawn_from(Beliefs(Recipe()), 4, 12)
    assert len({d.layout for d in drawn}) == 1
    assert len({d.place for d in drawn}) > 1


def test_a_name_gives_one_face_over_all_seeds() -> None:
    beliefs = Beliefs(Recipe(words="Marrit Fenn"))
    faces = {d.face for seed in range(4) for d in drawn_from(beliefs, seed, 6)}
    strangers = {d.face for d in drawn_from(Beliefs(Recipe(words="a woman")), 1, 6)}
    assert len(faces) <= 2
    assert len(strangers) == 6


def checker(*colours: tuple[int, int, int]) -> np.ndarray:
    image = np.zeros((64, 64, 3), np.uint8)
    for i, c in enumerate(colours):
        image[:, i * 64 // len(colours) : (i + 1) * 64 // len(colours)] = c
    return image


WARM, COLD = checker((200, 80, 40), (240, 190, 90), (120, 60, 40)), checker((40, 70, 160), (120, 170, 220), (30, 40, 80))


def test_palette_areas_sum_to_one_and_name_the_colours_of_the_picture() -> None:
    palette = read_palette(WARM)
    assert palette.area.sum() == pytest.approx(1, abs=1e-5)
    assert palette_distance(palette, palette) < 1
    assert palette_distance(palette, read_palette(COLD)) > 40


def test_the_transport_plan_moves_all_of_the_source() -> None:
    source = read_palette(WARM)
    plan = transport_plan(source, read_palette(COLD))
    assert plan.sum() == pytest.approx(1, abs=0.01)
    assert (plan >= 0).all()


def pulled(amount: float, protect: float = 0.0) -> np.ndarray:
    pull = PalettePull(read_palette(WARM), [read_palette(COLD)])
    x = (WARM.astype(np.float32) / 127.5 - 1).astype(np.float32)
    out = recoloured(x, pull.cube([amount]), np.full((64, 64), protect, np.float32))
    return np.clip((out + 1) * 127.5 + 0.5, 0, 255).astype(np.uint8)


def test_a_heavier_pull_brings_the_colours_closer_to_the_reference_step_by_step() -> None:
    cold = read_palette(COLD)
    distances = [palette_distance(read_palette(pulled(a)), cold) for a in np.linspace(0, 1, 11)]
    assert distances == sorted(distances, reverse=True)
    steps = -np.diff(distances) / (distances[0] - distances[-1])
    assert steps.max() < 0.2


def test_no_pull_changes_nothing_visible() -> None:
    assert np.abs(pulled(0.0).astype(int) - WARM).max() <= 2


def test_protected_pixels_keep_most_of_their_colour() -> None:
    moved, kept = (np.abs(pulled(1.0, p).astype(int) - WARM).mean() for p in (0.0, 0.8))
    assert kept < moved * 0.25


@settings(max_examples=20, deadline=None)
@given(st.integers(0, 1000))
def test_the_cube_look_up_equals_plain_trilinear_interpolation(seed: int) -> None:
    rng = np.random.default_rng(seed)
    cube = rng.uniform(0, 1, (33, 33, 33, 3)).astype(np.float32)
    x = rng.uniform(-1, 1, (5, 4, 3)).astype(np.float32)
    p = (x.reshape(-1, 3) + 1) / 2 * 32
    c = np.minimum(p.astype(int), 31)
    t = p - c
    expected = np.zeros_like(p)
    for corner in np.ndindex(2, 2, 2):
        weight = np.prod([t[:, q] if corner[q] else 1 - t[:, q] for q in range(3)], axis=0)
        expected += weight[:, None] * cube[c[:, 0] + corner[0], c[:, 1] + corner[1], c[:, 2] + corner[2]]
    result = recoloured(x, cube, np.zeros((5, 4), np.float32))
    assert np.allclose(result.reshape(-1, 3), expected * 2 - 1, atol=1e-4)
