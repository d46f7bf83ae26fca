"""The public face of the model: arms, set-ups, repetitions, and what is answered of them."""
