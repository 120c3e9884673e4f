"""How sure a judgement is: figures drawn over their ranges, and what measuring narrows."""
