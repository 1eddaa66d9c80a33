"""While rows are worked on no rings are looked for; afterwards they are again, whoever ends last and however."""

import gc

import pytest

from mildladder.store.gc_pause import collect_gen0, gc_paused


class Ring:
    alive = 0

    def __init__(self):
        self.itself = self
        Ring.alive += 1

    def __del__(self):
        Ring.alive -= 1


def test_rings_are_looked_for_again_once_the_last_has_ended():
    with pytest.raises(ZeroDivisionError), gc_paused():
        with gc_paused():
            assert not gc.isenabled()
        assert not gc.isenabled()
        raise ZeroDivisionError
    assert gc.isenabled()


def test_what_is_young_goes_at_once_when_asked():
    with gc_paused():
        Ring()
        assert Ring.alive == 1
        collect_gen0()
        assert Ring.alive == 0
