"""Suggested key colours on photographs of general-purpose libraries whose things were outlined and named by hand
before any suggestion was seen (tests/support/labels.txt); the full measure is `python -m benchmarks.keys`.
"""

import unittest
from pathlib import Path

import cv2
import numpy as np
import skimage
import sklearn

from ochre_stone.core.colour.difference import ciede2000
from ochre_stone.core.document.document import Document
from ochre_stone.core.keys.area import suggest_in
from ochre_stone.core.keys.faces import find_faces
from ochre_stone.core.keys.melt import melt
from ochre_stone.core.picture.frame import Frame, framed
from ochre_stone.core.picture.picture import linear_to_lab
from ochre_stone.core.planning.suggesting import suggest_notes
from tests.support.labelled import demo, labelled, light, met, names


class HandLabelled(unittest.TestCase):
    @classmethod
    def setUpClass(cls):
        folders = [Path(m.__file__).parent.parent for m in (skimage, sklearn)]
        cls.pictures = labelled(folders)
        assert len(cls.pictures) >= 6, "the packages' sample photos are missing"

    def test_names_given_are_right(self):
        total, spots = np.zeros(5, int), np.zeros(3, int)
        for one in self.pictures:
            notes = suggest_notes(one.picture, 12, Document()).notes
            total, spots = total + names(one, notes), spots + met(one, notes)
        self.assertGreater(total[3] / total[4], 0.85, total)
        self.assertLess(total[2] / total[:3].sum(), 0.08, total)
        self.assertGreater(total[4], 12, "it does give names")
        self.assertGreater(spots[0] / spots[2], 0.35, spots)

    def test_light_and_shadow_on_the_demo(self):
        made, mask = demo()
        found = [light(mask, suggest_notes(made.picture, n, Document()).notes) for n in (12, 20)]
        right, judged = np.sum(found, axis=0)
        self.assertGreater(right / judged, 0.8)

    def test_one_face_is_found_and_nothing_else_is_taken_for_one(self):
        for one in self.pictures:
            m = melt(framed(one.picture, Frame()))
            code = np.asarray(cv2.resize(one.picture.code, m.lab.shape[1::-1], interpolation=cv2.INTER_AREA))
            self.assertEqual(len(find_faces(code, m.lab)), int(one.name == "suit"), one.name)

    def test_six_notes_cover_a_drawn_face(self):
        one = next(p for p in self.pictures if p.name == "suit")
        skin = one.things == one.subjects.index(("skin",))
        grown = cv2.dilate(skin.astype(np.uint8), np.ones((13, 13), np.uint8))
        outline = max(cv2.findContours(grown, cv2.RETR_EXTERNAL, cv2.CHAIN_APPROX_SIMPLE)[0], key=cv2.contourArea)
        keys = suggest_in(framed(one.picture, Frame()), outline[:, 0].astype(float), "2-2-2").keys
        lab = linear_to_lab(one.picture.linear())[skin][::5].astype(float)
        gap = np.min([ciede2000(lab, np.array(k.seen.lab)) for k in keys], axis=0)
        self.assertLess(float(gap.mean()), 5.0)
        self.assertLess(float(np.percentile(gap, 95)), 11.0)
