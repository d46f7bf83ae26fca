"""From readings to a judgement: modelling of variants, criteria, lenses, constraints and the reasons why."""
