"""From readings to a ranking: modelling of variants, criteria, lenses, constraints and the reasons why."""
