"""What holds where nobody says otherwise, and which kinds of recipe leave which tubes out."""

import inspect
import unittest

from ochre_stone.core.mixing.correcting.correct import AtHand
from ochre_stone.core.mixing.recipe.ranking import Means, masks
from ochre_stone.core.mixing.session.adding import adding
from ochre_stone.core.mixing.session.plan import MixOn
from ochre_stone.core.paint.palettes import PALETTES


class Usual(unittest.TestCase):
    def test_piles_go_on_from_those_of_their_own_string(self) -> None:
        self.assertTrue(MixOn().on)
        self.assertFalse(MixOn().across)

    def test_what_is_at_hand_is_a_tube_until_told(self) -> None:
        self.assertFalse(AtHand.__dataclass_fields__["is_pile"].default)

    def test_steps_tell_no_amounts_until_a_size_is_given(self) -> None:
        self.assertEqual(inspect.signature(adding).parameters["ml"].default, 0.0)


class Kinds(unittest.TestCase):
    def test_own_stock(self) -> None:
        tubes = PALETTES["portrait-ten"].tubes
        one = tubes[3].id
        self.assertNotIn("own stock", masks(tubes, Means({}, {})))
        self.assertEqual(masks(tubes, Means({one: 0.5}, {}))["own stock"], [t.id == one for t in tubes])
        self.assertNotIn("own stock", masks(tubes, Means({t.id: 1.0 for t in tubes}, {})), "none is left out")
        self.assertNotIn("own stock", masks(tubes, Means({one: 0.0}, {})), "none is left in")

    def test_no_black(self) -> None:
        tubes = [t for p in PALETTES.values() for t in p.tubes]
        self.assertEqual(masks(tubes, Means({}, {}))["no black"], [not t.is_black for t in tubes])
        self.assertIn(False, masks(tubes, Means({}, {}))["no black"])


if __name__ == "__main__":
    unittest.main()
