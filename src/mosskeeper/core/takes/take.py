"""One take: from a recipe and a seed to a picture, by denoising.

1. The composition is drawn from the beliefs; a pose cue moves it, other structure cues choose among variants.
2. K exemplar descriptions are drawn on it, small. Each region has exemplars of its own on the same composition.
3. From noise, the segment posterior over them decides, step by step, which exemplar each part of the picture
   follows: the place, the hair, the person, the dress, the prop. Regions' denoisers are crossfaded.
4. Where the noise is low enough that all have decided, the description recombined from the chosen parts is drawn
   at full size; it is the one exemplar of the last steps.
5. References pull the colours of every estimate, tone and sketch its coarse tones, edges its lines, inside their spans.
6. A source picture stays as far as the denoise strength says; where a mask is closed it stays bit for bit.
"""

from __future__ import annotations

from collections.abc import Callable, Container, Mapping
from dataclasses import dataclass, replace

import numpy as np
from numpy.typing import NDArray

from mosskeeper.core.diffusion.conditioning import References, confined
from mosskeeper.core.diffusion.control_maps import Control, control, controls
from mosskeeper.core.diffusion.denoising import Denoising, crossfaded
from mosskeeper.core.diffusion.exemplars import Exemplars, small_size
from mosskeeper.core.diffusion.grading import Grading
from mosskeeper.core.diffusion.palette_pulls import Pulls
from mosskeeper.core.diffusion.random_streams import streams
from mosskeeper.core.diffusion.result import Progress, Report, TakeResult
from mosskeeper.core.errors import Stopped
from mosskeeper.core.illustrator.description import Description, Person
from mosskeeper.core.illustrator.draw import draw_scene
from mosskeeper.core.illustrator.drawing import Drawing
from mosskeeper.core.illustrator.explained import LayeredScenes
from mosskeeper.core.illustrator.scene import Scene, scene_of
from mosskeeper.core.inversion.invert import laid
from mosskeeper.core.mending.masks import opened_at
from mosskeeper.core.pictures.resample import fitted, smooth
from mosskeeper.core.pictures.signal import signal
from mosskeeper.core.reading.reading import Reading
from mosskeeper.core.reading.structure import grey
from mosskeeper.core.recipe import Cue, Recipe
from mosskeeper.core.roles import role
from mosskeeper.core.roles.role import Structure
from mosskeeper.core.scenes.interpolation import at_strength
from mosskeeper.core.takes import composition as candidates
from mosskeeper.core.takes import enlarge, regions
from mosskeeper.core.takes import source_picture as source
from mosskeeper.core.takes.beliefs import Beliefs, Composition
from mosskeeper.core.takes.boards import acting, boards_of, in_board_colours, on_boards, said_of
from mosskeeper.core.takes.explained_source import SourceExplanation, explanation
from mosskeeper.core.takes.make import ILLUSTRATOR, Make
from mosskeeper.core.takes.masked_composition import composed
from mosskeeper.core.takes.people_of_regions import present
from mosskeeper.core.takes.pose import held_by, posed_by
from mosskeeper.core.takes.poses_and_boards import by_hand
from mosskeeper.core.takes.repair import UNEXPLAINED, Start, repaired
from mosskeeper.core.takes.staging import RegionStaging, staged
from mosskeeper.core.words.understand import understand

F32 = NDArray[np.float32]
U8 = NDArray[np.uint8]
Pictures = Mapping[str, NDArray[np.uint8]]
Readings = Mapping[str, Reading]
FEW_EXEMPLARS = 8  # for preview sizes, which must be quick
PREVIEW_AREA = 150_000  # px
_SOURCE_HELD = 0.6  # weight of a source picture's contours in choosing the composition


def make_take(
    recipe: Recipe,
    seed: int,
    pictures: Pictures | None = None,
    report: Report = lambda _: None,
    should_stop: Callable[[], bool] = lambda: False,
    readings: Readings | None = None,
    make: Make = ILLUSTRATOR,
    explained: Mapping[str, LayeredScenes] | None = None,
) -> TakeResult:
    """Makes the take of a recipe for one seed; the same bytes for the same arguments.

    Parameters
    ----------
    pictures : those that the recipe uses (H, W, 3 or 4) uint8, by the name the recipe gives.
    report : called after every step.
    should_stop : asked before every drawing and every step.
    readings : of these pictures; what has none is measured.
    make : which of the built-in engines makes it.
    explained : the scenes of pictures that are takes themselves: such a source is drawn anew, not painted over.

    Raises
    ------
    Stopped
        where `should_stop` said so.
    KeyError
        where a picture is missing.
    """

    def check() -> None:
        if should_stop():
            raise Stopped

    recipe = recipe.model_copy(update={"steps": max(recipe.steps, make.least_steps)})
    pictures, readings = pictures or {}, readings or {}
    check()
    if recipe.source is not None and recipe.source.larger is not None:
        name = recipe.source.picture
        larger = enlarge.take_of(recipe, np.ascontiguousarray(pictures[name][:, :, :3]), (explained or {}).get(name))
        report(Progress(recipe.steps, recipe.steps))
        return larger
    start = _start(recipe, pictures, readings, explained or {}, check)
    making = _Making(recipe, seed, pictures, readings, report, check, make, start)
    made = None if start is None else repaired(recipe, start, making.source_rng, check, making.references, making.hand)
    if made is None:
        return making.take()
    report(Progress(recipe.steps, recipe.steps))  # it was drawn, not denoised: there are no steps on the way
    return made


def chosen(
    recipe: Recipe, seed: int, pictures: Pictures, readings: Readings, make: Make, should_stop: Callable[[], bool]
) -> tuple[Scene, list[Container[str]]]:
    """The scene that a take's parts choose before any board moves it, and for each figure what is said of it.

    Raises Stopped where `should_stop` said so.
    """

    def check() -> None:
        if should_stop():
            raise Stopped

    own = recipe.model_copy(update={"steps": max(recipe.steps, make.least_steps), "source": None})
    return _Making(own, seed, pictures, readings, lambda _: None, check, make, None).choice()


@dataclass(frozen=True, slots=True, eq=False)
class Arranged:
    """Who and what was chosen, and where. regions : of each figure, the number of its region; None: of the common words."""

    scenes: LayeredScenes
    regions: tuple[int | None, ...]
    composition: Composition
    stage: RegionStaging


def arranged(
    recipe: Recipe,
    seed: int,
    pictures: Pictures,
    readings: Readings,
    make: Make,
    check: Callable[[], None],
    like: Arranged | None = None,
) -> Arranged:
    """What a take's parts choose, without its last steps. like : another of the same people, who stand as they stand there."""
    own = recipe.model_copy(update={"steps": max(recipe.steps, make.least_steps), "source": None})
    return _Making(own, seed, pictures, readings, lambda _: None, check, make, None).arranged(like)


def _start(
    recipe: Recipe, pictures: Pictures, readings: Readings, explained: Mapping[str, LayeredScenes], check: Callable[[], None]
) -> Start | None:
    """The source picture of a recipe on its canvas."""
    own = recipe.source
    if own is None:
        return None
    picture_u8 = _fitted(pictures[own.picture], recipe.source_size)
    opened = None if own.mask is None else opened_at(grey(pictures[own.mask]), recipe.source_size)
    known = explanation(picture_u8, explained.get(own.picture), readings.get(own.picture), check)
    return Start(own, picture_u8, opened, known)


class _Making:
    """What one take needs on its way."""

    def __init__(
        self,
        recipe: Recipe,
        seed: int,
        pictures: Pictures,
        readings: Readings,
        report: Report,
        check: Callable[[], None],
        make: Make,
        start: Start | None,
    ) -> None:
        self.make, self.start = make, start
        self.explanation = None if start is None else start.explanation
        self.recipe, self.pictures, self.readings = regions.spanned(recipe), pictures, readings
        self.check = check
        self.size = (recipe.width, recipe.height)
        own = streams(seed)
        self.layout_rng, self.source_rng, self.exemplar_seed = own.layout, own.source, own.exemplars
        self.references = self._references(recipe.cues)
        lent = self.references.lent
        pulls = Pulls(lent, recipe.steps, recipe.balance, {a: grey(pictures[a]) for a in {one.cue.area for one in lent} if a})
        # a board is composed with the words, a sketch over a source picture pulls like any structure
        # but where a mask is open in one that is explained: there it touches who stands there
        drawn = start is None or (self.explanation is not None and start.opened is not None)
        boards = [cue for cue in recipe.cues if drawn and acting(cue, pictures)]
        opened = None if start is None or start.opened is None else start.opened > 0
        self.boards = boards_of(boards, pictures, recipe.steps, opened)
        self.hand = by_hand(recipe.cues, self.boards, readings, recipe.steps)
        self.controls = controls([cue for cue in recipe.cues if cue not in boards], pictures, readings, recipe.steps)
        asked = regions.read_regions(self.recipe, pictures)
        people = [replace(p, references=self._lent_in(p.region.cues)) for p in asked.people]
        self.asked = replace(asked, people=tuple(present(self.recipe, people)))
        self.patches = [*asked.patches, *regions.read_areas(recipe, pictures)]
        everywhere = self._references([cue for cue in recipe.cues if confined(cue) is None])
        self.beliefs = Beliefs(recipe, everywhere, self.asked.people, make.priors)
        self.stage = RegionStaging()
        self.composition: Composition | None = None
        grading = Grading(lent, pictures, recipe.steps)
        self.denoising = Denoising(
            self.recipe, own.noise, pulls, self.controls, [patch.area for patch in self.patches], grading, report, check
        )

    def choice(self) -> tuple[Scene, list[Container[str]]]:
        """What is chosen before any board."""
        scene = self.arranged(None).scenes.layers[0].scene
        return scene, said_of(self.beliefs, len(scene.postures))

    def arranged(self, like: Arranged | None) -> Arranged:
        """What is chosen, and where it stands.

        Raises ValueError where `like` has other people.
        """
        self.check()
        composition, place = self._composition()
        if like is not None:
            if len(like.composition.stances) != len(composition.stances):
                raise ValueError("other people cannot stand as these do")
            self.composition, self.stage = like.composition, like.stage
            composition = like.composition
        groups = self._exemplars(composition, place)
        masks = self._chosen(groups)
        numbers = tuple(p.number for p in self.asked.people)
        of_figures = numbers if self.stage.plan is not None else (None,) * len(composition.stances)
        return Arranged(LayeredScenes.of(self._scenes(groups), masks), of_figures, composition, self.stage)

    def _chosen(self, groups: list[Exemplars]) -> list[F32]:
        """Lets all parts choose; the masks of what is everywhere, in regions and in areas."""
        masks = regions.shares([p.mask for p in self.patches], self.size[::-1])
        self.denoising.decide(groups, [smooth(m, small_size(self.size)) for m in masks])
        return masks

    def take(self) -> TakeResult:
        self.check()
        groups = self._exemplars(*self._composition())
        masks = self._chosen(groups)
        if self.start is not None and self.start.opened is not None:
            made = self._composed(self.start, self.start.opened, groups[0].chosen())
            return TakeResult(made, None, groups[0].chosen(), None, (f"{UNEXPLAINED}: what the words name is composed in",))

        scenes = self._scenes(groups)
        if self.start is not None and self.explanation is not None:
            return self._redrawn(self.explanation, self.start.own.strength, scenes[0].description)
        drawings, images = [], []
        said = said_of(self.beliefs, len(scenes[0].postures)) if self.boards else []
        held = held_by([*self.recipe.cues, *self._poses_in_regions()], self.readings, self.recipe.steps)
        for k, scene in enumerate(scenes):
            self.check()
            moved = on_boards(scene, self.boards, said, held)
            scenes[k] = moved[-1].scene if moved else scene
            drawings.append(draw_scene(scenes[k]))
            images.append(signal(in_board_colours(drawings[-1], moved)))
        target = crossfaded(images, masks)
        description = scenes[0].description
        if self.start is not None:
            target = self._with_source(self.start, target, drawings[0])
        final = self.denoising.finish(target, drawings[0])
        if self.start is not None:
            return TakeResult(final, drawings[0], description, None, (f"{UNEXPLAINED}: place after place goes over to a new drawing",))
        return TakeResult(
            final,
            drawings[0],
            description,
            LayeredScenes.of(scenes, masks),
            (*self.references.silent(), *self.asked.told, *self.beliefs.told, *self.stage.told),
        )

    def _scenes(self, groups: list[Exemplars]) -> list[Scene]:
        """What was chosen: everywhere, and in each region and area."""
        description = groups[0].chosen()
        inside = (p.described(description, g.chosen()) for p, g in zip(self.patches, groups[1:], strict=True))
        chosen = [description, *inside]
        if not self._structure():  # a pose moves what was chosen: who it is does not depend on how they stand
            chosen = [self._by_poses(d) for d in chosen]
        return [self._at_strengths(self.stage(scene_of(d, self.size, self.make.scale))) for d in chosen]

    def _at_strengths(self, scene: Scene) -> Scene:
        """People of weak regions on their way from who they are by the common words alone."""
        for n, one in enumerate(self.asked.people if self.stage.plan is not None else ()):
            usual = self.beliefs.usual[n]
            if one.region.strength < 1 and usual is not None and self.composition is not None:
                alone = self.beliefs.with_figure(n, usual)
                who = alone.exemplars(self.composition, np.random.default_rng(self.exemplar_seed), 1)[0].figures[n]
                now = scene.description.figures[n]
                first = scene.with_person(n, replace(who, subject=now.subject, build=now.build, layout=now.layout, figure=now.figure))
                scene = at_strength(first, scene, one.region.strength)
        return scene

    # -- what is where -----------------------------------------------------------------------------------

    def _composition(self) -> tuple[Composition, str | None]:
        """Where everything is, with the people of regions where these have them; and the place, where controls chose it."""
        composition, place = self._usual_composition()
        self.beliefs, self.composition, self.stage = staged(self.recipe, self.asked, self.beliefs, composition)
        return self.composition, place

    def _usual_composition(self) -> tuple[Composition, str | None]:
        composition = self.beliefs.composition(self.layout_rng)
        wanted = self._structure()
        if wanted:
            composition = self._posed(composition)
        if self.explanation is not None:
            held = self.explanation.scene.description.layout
            composition = composition.with_first(replace(composition.stances[0], layout=held))
        if not wanted:
            return composition, None
        example = self.beliefs.exemplars(composition, np.random.default_rng(self.exemplar_seed), 1)[0]
        return candidates.choose(composition, example, self.beliefs, wanted, self.size, self.check, self._explaining())

    def _explaining(self) -> list[Scene]:
        """The scenes that explain the pictures of structure cues, as far as where things stand."""
        cues = [cue for cue in self.recipe.cues if cue.acts and cue.picture is not None and isinstance(role(cue.role), Structure)]
        readings = [
            self.readings[name] for name in sorted({cue.picture for cue in cues if cue.picture is not None}) if name in self.readings
        ]
        return [scene for reading in readings if (scene := laid(reading, self.size)) is not None]

    def _structure(self) -> list[Control]:
        """Controls that choose the composition; a source picture without a mask is one of them."""
        own = self.recipe.source
        if own is None or own.mask is not None or self.explanation is not None:
            return self.controls
        return [*self.controls, control("edges", _SOURCE_HELD, self.pictures[own.picture][:, :, :3])]

    def _posed(self, composition: Composition) -> Composition:
        """The composition with its figures posed, so that structure is sought around them."""
        stances = composition.stances
        first, *others = (Person(subject=s.subject, build=s.build, layout=s.layout, figure=s.figure) for s in stances)
        d = Description(subject=first.subject, build=first.build, layout=first.layout, figure=first.figure, others=tuple(others))
        moved = self._by_poses(d).figures
        return replace(composition, stances=tuple(replace(s, layout=p.layout) for s, p in zip(stances, moved, strict=True)))

    def _by_poses(self, d: Description) -> Description:
        return posed_by(d, self.recipe.cues, self.readings, self.recipe.steps, self.size, self._poses_in_regions())

    def _poses_in_regions(self) -> list[Cue]:
        stand = self.stage.plan is not None
        return [c.model_copy(update={"figure": n}) for n, p in enumerate(self.asked.people) for c in p.region.cues if stand]

    def _exemplars(self, composition: Composition, place: str | None) -> list[Exemplars]:
        size = small_size(self.size)
        few = self.size[0] * self.size[1] <= PREVIEW_AREA
        count = min(FEW_EXEMPLARS, self.make.exemplars) if few else self.make.exemplars
        inside = (self.beliefs.amended(p.wanted, p.unwanted, self._lent_in(p.cues), p.tints) for p in self.patches)
        out = []
        for beliefs in (self.beliefs, *inside):
            # the same numbers for all: a region's exemplars differ only in what its words say
            descriptions = beliefs.exemplars(composition, np.random.default_rng(self.exemplar_seed), count)
            if place is not None and not beliefs.says("place"):
                descriptions = [replace(d, place=place) for d in descriptions]
            out.append(Exemplars.drawn(descriptions, size, self.controls, self.check, self.stage))
        return out

    def _references(self, cues: list[Cue]) -> References:
        return References(cues, self.pictures, self.readings, self.recipe.steps, self.recipe.balance)

    def _lent_in(self, cues: list[Cue]) -> References | None:
        return self._references(cues) if cues else None

    # -- what stays of a source picture --------------------------------------------------------------------

    def _redrawn(self, explained: SourceExplanation, strength: float, description: Description) -> TakeResult:
        """A source on its way to what the words ask, on its own composition."""
        self.check()
        image, drawing, scene = explained.towards(description, strength)
        if strength > 0:
            image = self.denoising.finish(signal(image), drawing)
        else:
            self.denoising.skip_rest()
        scenes = LayeredScenes.of([scene]) if explained.explains_what_is_made(strength) else None
        return TakeResult(image, drawing, scene.description, scenes, explained.says)

    def _with_source(self, start: Start, target: F32, drawing: Drawing) -> F32:
        return source.between(signal(start.picture), target, drawing.labels, drawing.figures, start.own.strength, self.source_rng)

    def _composed(self, start: Start, opened: F32, description: Description) -> NDArray[np.uint8]:
        """The source with what the words ask in the masked place; below half strength it lies thinly over what was there."""
        self.check()
        changed = composed(start.picture, opened, description, understand(self.recipe.words, self.recipe.emphasis).wanted)
        amount = np.float32(min(1.0, 2 * start.own.strength))
        self.denoising.skip_rest()
        mixed = np.clip(start.picture * (1 - amount) + changed * amount + 0.5, 0, 255).astype(np.uint8)
        return source.inside(start.picture, mixed, opened, start.own.feather)


def _fitted(rgb_u8: NDArray[np.uint8], size: tuple[int, int]) -> NDArray[np.uint8]:
    """A picture at the size of the recipe; one that has it already stays bit for bit."""
    rgb = np.ascontiguousarray(rgb_u8[:, :, :3])
    return fitted(rgb, size)
