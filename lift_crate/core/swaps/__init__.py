"""The day's swaps: the question, a first plan, the solver, what if, cards and rules of thumb."""
