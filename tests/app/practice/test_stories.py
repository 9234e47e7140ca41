"""Every practice job is failed by the obvious mistake and solved by who knows the trade."""

from dataclasses import replace

import pytest

from honest_edge.app.edits.fixes import fixed_job
from honest_edge.app.practice.day import GOOD_SHARE, PracticeDay, first_job
from honest_edge.app.practice.free_bench import FREE_CAUSES, LEVELS, free_bench, verdict
from honest_edge.app.practice.hands import Hands
from honest_edge.app.practice.record import progress_of
from honest_edge.app.practice.stories import STORIES, story
from honest_edge.app.results.compute_overview import compute_overview
from honest_edge.app.results.pipeline import Pipeline
from honest_edge.core.values.errors import BlockedError, UsageError
from honest_edge.core.values.practice_notes import Practised
from honest_edge.core.values.printer import PRINTERS
from honest_edge.files.book.records import PRACTISED

SEEDS = (1, 7)
CARE = Hands(at_full_size=True, tapes_marks=True, loads_square=True, presses_down=True)


def mended(job, pipeline, *checks):
    """Take the first fix of what checks found, as the buttons of Proof do."""
    for _ in range(4):
        overview = compute_overview(job, pipeline)
        found = next((f for f in overview.findings if f.check in checks and f.fix is not None), None)
        if found is None:
            return overview
        job = fixed_job(job, found.fix)
    raise AssertionError(checks)


def with_true_printer(job, pipeline):
    job = replace(job, sheet=replace(job.sheet, printer=PRINTERS[0]))
    return mended(job, pipeline, "mark rim")


def as_it_is(job, pipeline):
    return compute_overview(job, pipeline)


SOLVED = {
    "wedding": (as_it_is, replace(Hands(), at_full_size=True)),
    "more room": (with_true_printer, Hands()),
    "shiny": (as_it_is, replace(Hands(), tapes_marks=True)),
    "hollow": (lambda job, pipeline: mended(job, pipeline, "leaks"), Hands()),
    "frame": (lambda job, pipeline: mended(job, pipeline, "nested", "double"), Hands()),
    "thin bleed": (lambda job, pipeline: mended(job, pipeline, "drift"), Hands()),
    "in a hurry": (as_it_is, replace(Hands(), loads_square=True)),
    "old carrier": (as_it_is, replace(Hands(), presses_down=True)),
    "dust": (as_it_is, replace(Hands(), takes_new_blade=True)),
    "second thoughts": (as_it_is, Hands()),
    "thick film": (as_it_is, replace(Hands(), force=42)),
    "green sheet": (lambda job, pipeline: mended(job, pipeline, "ring"), Hands()),
}


@pytest.fixture(scope="module")
def begun():
    """Each story's job with its overview, computed once."""
    made = {}
    for one in STORIES:
        job, assets = first_job(one)
        pipeline = Pipeline(assets)
        made[one.key] = (compute_overview(job, pipeline), pipeline)
    return made


def day_of(key, seed):
    day = PracticeDay(story=story(key), seed=seed)
    day.begin()
    return day


def test_there_are_twelve_and_each_has_its_own_name_and_tale():
    assert len(STORIES) == 12
    assert set(SOLVED) == {one.key for one in STORIES}
    for words in ("key", "title", "tale", "what", "shows", "avoid"):
        assert len({getattr(one, words) for one in STORIES}) == 12


@pytest.mark.parametrize("key", SOLVED)
@pytest.mark.parametrize("seed", SEEDS)
def test_the_obvious_mistake_fails(begun, key, seed):
    overview, _ = begun[key]
    day = day_of(key, seed)
    if day.print is None:
        day.print_sheet(overview, Hands())
    made = day.cut(overview, Hands())
    assert not made.is_good
    assert not day.is_solved
    assert made.is_lost or "Nothing is cut" in made.says
    assert day.lost == made.is_lost


def test_luck_hardly_ever_hides_a_bleed_that_is_too_short(begun):
    overview, _ = begun["thin bleed"]
    lucky = 0
    for seed in range(100, 180):
        day = day_of("thin bleed", seed)
        day.print_sheet(overview, Hands())
        lucky += day.cut(overview, Hands()).is_good
    assert lucky <= 4, "of 80"


@pytest.mark.parametrize("key", SOLVED)
@pytest.mark.parametrize("seed", SEEDS)
def test_who_knows_the_trade_loses_no_sheet_and_keeps_to_par(begun, key, seed):
    overview, pipeline = begun[key]
    mend, hands = SOLVED[key]
    overview = mend(overview.job, pipeline)
    day = day_of(key, seed)
    if key == "second thoughts":
        day.print = None  # the old prints are laid aside, and not thrown away yet
    day.print_sheet(overview, hands)
    if key == "wedding":
        assert "50 mm. It is 50 mm" in day.lay_ruler(overview).replace("mm long", "mm")
    if key == "thick film":
        assert "does not lift" in day.try_square(replace(hands, force=30))
        assert "lifts clean" in day.try_square(hands)
    made = day.cut(overview, hands)
    assert made.is_good, made.says
    assert day.is_solved
    assert made.sheet.good >= GOOD_SHARE * len(made.sheet.fates)
    assert day.lost == story(key).par_sheets
    assert day.minutes <= story(key).par_min


def test_the_second_thought_can_be_taken_back_instead(begun):
    overview, pipeline = begun["second thoughts"]
    day = day_of("second thoughts", 1)
    before, _ = story("second thoughts").before()
    taken_back = compute_overview(replace(overview.job, designs=before.designs), pipeline)
    assert day.cut(taken_back, Hands()).is_good
    assert day.lost == 0


def test_a_ruler_tells_a_fitted_print_before_it_is_cut(begun):
    overview, _ = begun["wedding"]
    day = day_of("wedding", 1)
    day.print_sheet(overview, Hands())
    assert "It is 47.5 mm" in day.lay_ruler(overview)
    day.throw_away()
    assert (day.lost, day.print) == (1, None)


def test_one_sticker_first_saves_the_sheet(begun):
    overview, _ = begun["in a hurry"]
    day = day_of("in a hurry", 1)
    first = replace(Hands(), cuts_one_first=True)
    day.print_sheet(overview, first)
    made = day.cut(overview, first)
    assert "One sticker is cut first" in made.says
    assert (made.is_lost, day.lost) == (False, 0)
    assert day.print is not None
    assert made.sheet.spoiled == 1


def test_the_same_acts_give_the_same_sheets(begun):
    overview, _ = begun["dust"]
    found = []
    for _ in range(2):
        day = day_of("dust", 5)
        for _ in range(3):
            day.print_sheet(overview, Hands())
            day.cut(overview, Hands())
        found.append(day.told)
    assert found[0] == found[1]


def test_wet_ink_and_bad_orders_have_their_words(begun):
    overview, _ = begun["old carrier"]
    day = day_of("old carrier", 1)
    with pytest.raises(UsageError, match="Print a sheet first"):
        day.cut(overview, Hands())
    with pytest.raises(UsageError, match="Print a sheet first"):
        day.throw_away()
    with pytest.raises(UsageError, match="10 to 60"):
        Hands(force=99)
    wet = replace(CARE, lets_dry=False)
    day.print_sheet(overview, wet)
    assert "smeared" in day.cut(overview, wet).says
    empty = compute_overview(replace(overview.job, designs=()), Pipeline({}))
    with pytest.raises(BlockedError):
        day.print_sheet(empty, Hands())


@pytest.mark.parametrize("level", range(1, len(LEVELS) + 1))
def test_a_free_bench_is_its_number_and_shows_what_it_hides(begun, level):
    overview, _ = begun["dust"]  # the same labels
    seen = set()
    for seed in range(12):
        bench = free_bench(seed, level)
        assert bench == free_bench(seed, level) or bench.causes == free_bench(seed, level).causes
        assert len(bench.causes) == LEVELS[level - 1][1]
        seen |= bench.causes
        spoiled = 0
        day = PracticeDay(story=bench.story, seed=seed)
        for _ in range(3):
            day.print_sheet(overview, Hands())
            made = day.cut(overview, Hands())
            spoiled += 0 if made.sheet is None else made.sheet.spoiled
            day.print = None
        assert spoiled > 0, bench.causes
    assert len(seen) >= 4


def test_what_is_said_of_a_free_bench_is_judged():
    bench = next(free_bench(seed, 3) for seed in range(50) if len(free_bench(seed, 3).causes) == 2)
    one, other = sorted(bench.causes)
    wrong = next(cause for cause in FREE_CAUSES if cause not in bench.causes)
    assert verdict(bench, bench.causes)[0]
    is_right, words = verdict(bench, frozenset({one}))
    assert (is_right, words.startswith("Part of it")) == (False, True)
    assert not verdict(bench, frozenset({one, wrong}))[0]
    assert other
    for seed, level in ((-1, 1), (1, 0), (1, 99), (10**6, 1)):
        with pytest.raises(UsageError):
            free_bench(seed, level)


def test_progress_is_the_best_try_of_a_story():
    notes = [
        Practised(story="dust", lost=3, minutes=80),
        Practised(story="dust", lost=1, minutes=40, is_solved=True),
        Practised(story="dust", lost=0, minutes=70, is_solved=True),
        Practised(story="shiny"),
    ]
    assert progress_of(notes, "dust").words == "solved: no sheet lost, 70 min"
    assert progress_of(notes, "shiny").words == "tried once, not solved"
    assert progress_of(notes, "frame").words == "not tried yet"
    event = PRACTISED.event(notes[1], "a" * 32, 1_790_000_000_000)
    assert event.data["lost"] == 1
    for bad in ({"story": ""}, {"story": "x", "lost": -1}, {"story": "x", "minutes": float("nan")}):
        with pytest.raises(UsageError):
            Practised(**bad)
