"""The spot reader: its protocol, the simulated one as a live process, and what happens when things go wrong."""

import os
import threading
import time
import tty
import unittest

import numpy as np
from hypothesis import given
from hypothesis import strategies as st

from ochre_stone.core.colour.spaces import spectral_weights, xyz_to_lab
from ochre_stone.core.errors import OchreError
from ochre_stone.devices import protocol
from ochre_stone.devices.protocol import Refusal, ReplyError
from ochre_stone.devices.reader import SpotReader, lab_of, ports
from ochre_stone.devices.simulated import Simulation, scene
from ochre_stone.devices.stand_in import StandIn

TRUTH = scene()


class Lines(unittest.TestCase):
    def test_a_reading_goes_through_the_line_unchanged(self):
        values = np.random.default_rng(0).random(36).round(5).tolist()
        word, rest = protocol.parse(protocol.write_reading(values, 77))
        self.assertEqual(word, "reading")
        reading = protocol.parse_reading(rest)
        self.assertEqual(list(reading.spectrum), values)
        self.assertEqual(reading.battery, 77)
        _, rest = protocol.parse(protocol.write_reading([0.4, 0.5, 0.6], 5, "xyz"))
        self.assertEqual(protocol.parse_reading(rest).xyz, (0.4, 0.5, 0.6))

    def test_refusals_are_sentences(self):
        for word in protocol.REFUSALS:
            answer = protocol.parse(f"no {word} 7")
            assert isinstance(answer, Refusal)
            self.assertTrue(answer.sentence.endswith("."))
        self.assertIn("7 seconds", Refusal("warming", "7").sentence)
        self.assertIn("handbook", Refusal("strange").sentence)

    @given(st.text(max_size=80))
    def test_nonsense_never_passes(self, line):
        try:
            answer = protocol.parse(line)
        except ReplyError:
            return
        if isinstance(answer, Refusal):
            self.assertTrue(answer.sentence)
            return
        for parser in (protocol.parse_hello, protocol.parse_status, protocol.parse_reading):
            try:
                parser(answer[1])
            except ReplyError:
                continue


class Insides(unittest.TestCase):
    def ready(self, **options: object) -> Simulation:
        made = Simulation(TRUTH, warm_up=0.0, **options)
        made.answer("calibrate")
        return made

    def test_it_wants_warmth_then_its_tile(self):
        made = Simulation(TRUTH, warm_up=60.0)
        self.assertTrue(made.answer("read").startswith("no warming"))
        made = Simulation(TRUTH, warm_up=0.0)
        self.assertEqual(made.answer("read"), "no calibrate")
        self.assertEqual(made.answer("calibrate"), "ok calibrated")
        self.assertEqual(made.answer("read"), "no dark", "it has not been pointed at anything")

    def test_the_battery_runs_down_to_a_refusal(self):
        made = self.ready(battery=3.0, drain=1.0)
        made.answer("point 0.5 0.5 0.01")
        answers = [made.answer("read").split()[0] for _ in range(3)]
        self.assertEqual(answers, ["ok", "ok", "no"])
        self.assertEqual(made.answer("read"), "no battery")

    def test_the_aperture_averages_the_scene(self):
        made = self.ready(noise=0.0)
        for aperture in (0.0, 0.05):
            made.answer(f"point 0.3 0.4 {aperture}")
            spectrum = np.array(protocol.parse_reading(made.answer("read").split()[2:]).spectrum)
            dy, dx = np.ogrid[:240, :320]
            inside = np.hypot(dx + 0.5 - 96, dy + 0.5 - 96) <= max(aperture * 160, 0.75)
            np.testing.assert_allclose(spectrum, TRUTH[inside].mean(axis=0), atol=2e-3)

    def test_noise_is_as_large_as_asked(self):
        made = self.ready(noise=0.01, battery=100.0, drain=0.0)
        made.answer("point 0.75 0.4 0.02")
        many = np.array([protocol.parse_reading(made.answer("read").split()[2:]).spectrum for _ in range(300)])
        self.assertAlmostEqual(float((many.std(axis=0) / many.mean(axis=0)).mean()), 0.01, delta=0.0015)

    def test_strange_requests(self):
        made = self.ready()
        for request in ("", "dance", "point", "point a b c", "point 3 3 3"):
            self.assertTrue(made.answer(request).startswith("no"), request)


class Live(unittest.TestCase):
    def start(self, *options: str) -> tuple[StandIn, SpotReader]:
        stand_in = StandIn("--warm-up", "0", "--seconds", "0.05", *options)
        self.addCleanup(stand_in.stop)
        reader = SpotReader(stand_in.path)
        self.addCleanup(reader.close)
        return stand_in, reader

    def test_hello_calibrate_read(self):
        _, reader = self.start("--noise", "0.001")
        self.assertTrue(reader.is_simulated)
        self.assertEqual(reader.hello.measures, "reflectance")
        with self.assertRaises(OchreError) as caught:
            reader.read()
        self.assertIn("white tile", str(caught.exception))
        reader.calibrate()
        reader.point(1209 / 1600, 529 / 1200, 0.01)
        reading = reader.read()
        truth = TRUTH[106, 242]
        self.assertLess(float(np.abs(np.array(reading.spectrum) / truth - 1).mean()), 0.1)
        L, a, b = xyz_to_lab(np.array(reading.spectrum) @ spectral_weights("D65"))
        np.testing.assert_allclose(lab_of(reading), (L, a, b))
        self.assertTrue(reader.status().calibrated)

    def test_xyz_readers_too(self):
        _, reader = self.start("--xyz", "--noise", "0")
        reader.calibrate()
        reader.point(0.75, 0.44, 0.01)
        reading = reader.read()
        self.assertEqual(reading.spectrum, ())
        self.assertEqual(len(reading.xyz), 3)
        self.assertGreater(lab_of(reading)[0], 20)

    def test_unplugged_while_reading(self):
        stand_in, reader = self.start("--unplug-after", "1")
        reader.calibrate()
        reader.point(0.5, 0.5, 0.01)
        reader.read()
        start = time.monotonic()
        with self.assertRaises(OchreError) as caught:
            reader.read()
        self.assertIn("unplugged", str(caught.exception))
        self.assertLess(time.monotonic() - start, protocol_limit())
        self.assertFalse(reader.open)
        with self.assertRaises(OchreError):
            reader.status()
        deadline = time.monotonic() + 10
        while stand_in.running and time.monotonic() < deadline:
            time.sleep(0.02)
        self.assertFalse(stand_in.running)

    def test_killed_in_the_middle(self):
        stand_in, reader = self.start("--seconds", "5")
        reader.calibrate()
        reader.point(0.5, 0.5, 0.01)
        threading.Timer(0.3, stand_in.stop).start()
        with self.assertRaises(OchreError):
            reader.read()

    def test_nothing_there_and_something_else_there(self):
        with self.assertRaises(OchreError) as caught:
            SpotReader("/dev/no-such-port")
        self.assertIn("/dev/no-such-port", str(caught.exception))
        master, slave = os.openpty()
        tty.setraw(slave)
        self.addCleanup(os.close, master)
        self.addCleanup(os.close, slave)

        def babble() -> None:
            os.read(master, 100)
            os.write(master, b"AT ERROR\r\n")

        talker = threading.Thread(target=babble, daemon=True)
        talker.start()
        with self.assertRaises(OchreError) as caught:
            SpotReader(os.ttyname(slave))
        self.assertIn("no spot reader", str(caught.exception))
        talker.join(2)

    def test_ports_can_be_listed(self):
        self.assertIsInstance(ports(), list)


def protocol_limit() -> float:
    """Seconds within which a lost reader must have been noticed."""
    from ochre_stone.devices.reader import MEASURE_SECONDS

    return MEASURE_SECONDS + 2
