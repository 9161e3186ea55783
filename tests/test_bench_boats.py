"""The boats that the bench measures can be built, whatever the demo says of its own things."""

from bench.boats import crowded_plan, fitted_plan


def test_the_boats_of_the_bench_are_plans() -> None:
    crowded, fitted = crowded_plan(), fitted_plan()
    assert len(crowded.items) + len(crowded.fittings) + len(crowded.tanks) >= 80
    assert len(fitted.fittings) >= 80
