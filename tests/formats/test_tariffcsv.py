"""A tariff as CSV comes back as it went out; what is not one is refused with its line."""

from datetime import date

import pytest
from hypothesis import given
from hypothesis import strategies as st

from imbuto.core.basics.clock import Window
from imbuto.core.basics.errors import ImbutoError
from imbuto.core.home.tariff import Rate, Tariff, Tier
from imbuto.formats.csv_tables import tariffcsv

WINDOWS = st.lists(
    st.builds(
        Window,
        start_h=st.integers(0, 47).map(lambda x: x / 2),
        end_h=st.integers(0, 47).map(lambda x: x / 2),
        days=st.sampled_from(["all", "weekday", "weekend"]),
    ),
    max_size=3,
).map(tuple)
PRICE = st.integers(-50, 300).map(lambda x: x / 100)


@given(
    st.lists(st.tuples(PRICE, WINDOWS, st.sets(st.integers(1, 12))), min_size=1, max_size=4),
    st.lists(st.tuples(st.integers(0, 2000), PRICE), max_size=3),
    PRICE,
    st.booleans(),
    st.lists(st.dates(), max_size=4),
)
def test_it_comes_back_as_it_went_out(rates, tiers, export, net, days):
    made = Tariff(
        id="a-tariff",
        name="A tariff",
        since=date(2026, 3, 1),
        fixed=9.5,
        net=net,
        export_price=export,
        holidays=tuple(days),
        rates={
            f"rate-{i}": Rate(id=f"rate-{i}", name=f"Rate {i}", price=p, windows=w, months=tuple(sorted(m)))
            for i, (p, w, m) in enumerate(rates)
        },
        tiers=tuple(Tier(above_kwh=a, more=m) for a, m in tiers),
        source="t.csv",
    )
    assert tariffcsv.read(tariffcsv.write(made).encode(), "t.csv") == made


def test_what_is_none_is_refused_with_its_line():
    head = ",".join(tariffcsv.HEAD) + "\n"
    for text in (
        "",
        "a,b\n",
        head,
        f"{head}rate,Night,0.1,,,,\n",
        f"{head}tariff,T,0,2026-01-01,,,\n",
        f"{head}price,Night,1\n",
        f"{head}tariff,T,0,yesterday,,,\n",
        f"{head}tariff,T,0,2026-01-01,,,\nrate,N,dear,,,,\n",
        f"{head}tariff,T,0,2026-01-01,,,\nrate,N,0.1,25,6,all,\n",
        f"{head}tariff,T,0,2026-01-01,,,\nrate,N,0.1,23,6,monday,\n",
        f"{head}tariff,T,0,2026-01-01,,,\nrate,N,0.1,23,6,all,13\n",
        head + "holiday,2026-02-30\n",
    ):
        with pytest.raises(ImbutoError) as refused:
            tariffcsv.read(text.encode(), "t.csv")
        assert refused.value.sentence.endswith(".")
    with pytest.raises(ImbutoError):
        tariffcsv.read(b"\xff\xfe\x00", "t.csv")
