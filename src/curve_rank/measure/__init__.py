"""From the outside world to angles and torque: arrays and text in, arrays out; no file, no socket."""
