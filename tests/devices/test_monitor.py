"""The monitor's profile: asked of the desktop's colour service, applied to pictures and swatches."""

import unittest
from typing import Any

import imagecodecs
import numpy as np
from PyQt6.QtDBus import QDBusMessage

from ochre_stone.core.colour.spaces import lab_to_hex
from ochre_stone.core.errors import OchreError
from ochre_stone.core.picture import profiles
from ochre_stone.core.picture.screen import Screen
from ochre_stone.desktop.session.monitor import profile_file
from ochre_stone.devices.monitor import read_profile
from tests.core.picture.test_formats import cmyk_profile
from tests.support.made import FolderCase, orchard, picture

WIDE = profiles.matrix_profile(profiles.PRIMARIES[12], 2.2)


class ColourService:
    """Answers as the desktop's colour service does, in place of a bus."""

    def __init__(self, devices: dict[str, dict[str, Any]], files: dict[str, str]) -> None:
        self.devices, self.files = devices, files

    def call(self, message: QDBusMessage, mode: object, timeout: int) -> QDBusMessage:
        path, words = message.path(), message.arguments()
        if message.member() == "GetDevicesByKind":
            return message.createReply([list(self.devices)])
        if message.member() == "FindDeviceByProperty":
            found = [d for d, held in self.devices.items() if held["name"] == words[1]]
            return message.createReply(found) if found else message.createErrorReply("NotFound", "no such device")
        assert message.member() == "Get"
        if path in self.devices:
            return message.createReply([self.devices[path]["profiles"]])
        return message.createReply([self.files[path]])


class Asked(FolderCase):
    def setUp(self) -> None:
        super().setUp()
        self.first, self.second = self.folder / "first.icc", self.folder / "second.icc"
        for file in (self.first, self.second):
            file.write_bytes(WIDE)
        self.service = ColourService(
            {"/d/a": {"name": "DP-1", "profiles": ["/p/1"]}, "/d/b": {"name": "HDMI-1", "profiles": ["/p/2"]}},
            {"/p/1": str(self.first), "/p/2": str(self.second)},
        )

    def test_the_display_that_is_meant(self):
        self.assertEqual(profile_file("HDMI-1", self.service), self.second)
        self.assertEqual(profile_file("DP-1", self.service), self.first)
        self.assertEqual(profile_file("", self.service), self.first)

    def test_no_profile_no_display_no_service(self):
        self.service.files["/p/1"] = str(self.folder / "gone.icc")
        self.assertEqual(profile_file("DP-1", self.service), self.second)
        self.assertIsNone(profile_file("", ColourService({}, {})))
        self.assertIsNone(profile_file("", ColourService({"/d/a": {"name": "x", "profiles": ["/p/9"]}}, {})))

    def test_files_that_are_no_profiles(self):
        self.assertEqual(read_profile(self.first), WIDE)
        wrong = self.folder / "words.icc"
        wrong.write_bytes(b"words" * 40)
        with self.assertRaises(ValueError):
            read_profile(wrong)


class Applied(unittest.TestCase):
    def test_pictures_agree_with_littlecms(self):
        linear = picture(orchard()).linear()
        expected = imagecodecs.cms_transform(
            linear, profiles.linear_profile(), WIDE, colorspace="rgb", outcolorspace="rgb", outdtype=np.uint8, intent=1
        )
        self.assertLessEqual(int(np.abs(Screen(WIDE).encode(linear).astype(int) - expected).max()), 1)

    def test_without_a_profile_it_is_srgb(self):
        plain = Screen()
        self.assertTrue(plain.is_srgb)
        for lab in ((50.0, 10.0, -20.0), (70.0, 90.0, 60.0)):
            self.assertEqual(plain.hex_of(lab), lab_to_hex(lab))

    def test_a_profile_of_srgb_changes_nothing_and_a_wide_one_needs_smaller_numbers(self):
        same, wide = Screen(profiles.srgb_profile()), Screen(WIDE)
        lab = (50.0, 40.0, 30.0)

        def numbers(text: str) -> np.ndarray:
            return np.array([int(text[i : i + 2], 16) for i in (1, 3, 5)])

        self.assertLessEqual(int(np.abs(numbers(same.hex_of(lab)) - numbers(lab_to_hex(lab))).max()), 1)
        self.assertLess(np.ptp(numbers(wide.hex_of(lab))), np.ptp(numbers(lab_to_hex(lab))))
        self.assertGreater(numbers(wide.hex_of((55.0, 120.0, 90.0)))[0], 200, "beyond it, chroma is lost, not hue")

    def test_a_printer_profile_is_refused(self):
        with self.assertRaises(OchreError) as caught:
            Screen(cmyk_profile())
        self.assertIn("monitor", str(caught.exception))
