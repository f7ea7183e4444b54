"""Long runs that try to lose work: mutated inputs, kills, several writers, random use, a pulled cable."""
