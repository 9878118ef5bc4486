"""Label reader and weather station: their line protocols, over a real socket to the simulated ones."""

from __future__ import annotations

from hypothesis import given
from hypothesis import strategies as st

from lift_crate.devices.reader import LabelReader, parse_label
from lift_crate.devices.simulated_reader import SimulatedReader
from lift_crate.devices.simulated_weather import SimulatedWeather
from lift_crate.devices.weather import WeatherStation, parse_weather


def test_a_label_is_told_once_in_the_order_of_scanning() -> None:
    with SimulatedReader(scanned=("PACK-01",)) as server:
        server.start()
        reader = LabelReader(server.address)
        assert reader.name() == "simulated label reader"
        assert server.answer("S zoom-2 ") == "OK"
        assert server.answer("S") == "E unknown command 'S'; R tells the next label, I who is there"
        assert [reader.read() for _ in range(3)] == ["PACK-01", "zoom-2", ""]
        server.shutdown()


def test_the_weather_is_worse_than_planned_and_within_its_scale() -> None:
    with SimulatedWeather() as server:
        server.start()
        station = WeatherStation(server.address)
        station.expect(4.0, 9.0, 320.0)
        for _ in range(20):
            read = station.read()
            assert read.temperature_c is not None
            assert -1 < read.temperature_c < 2
            assert read.wind_m_s is not None
            assert read.gust_m_s is not None
            assert read.gust_m_s >= read.wind_m_s > 9
        assert server.answer("P 4 9") == "E °C, m/s and lux, as in P 4 6 40"
        assert server.answer("P 99 9 1").startswith("E from")
        server.shutdown()


@given(st.text(max_size=140))
def test_whatever_a_reader_says_is_a_label_nothing_or_refused(said: str) -> None:
    found = parse_label(f"R {said}")
    if found:
        assert found == said.strip()
        assert 1 <= len(found) <= 120
        assert found.isprintable()
    assert parse_label("R -") == ""


@given(st.text(max_size=60))
def test_whatever_a_station_says_is_weather_or_refused(said: str) -> None:
    for line in (said, f"W {said}"):
        found = parse_weather(line)
        if found and found.temperature_c is not None:
            assert -60 <= found.temperature_c <= 70
