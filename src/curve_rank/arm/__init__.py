"""The arm as physics: arrays in, arrays out. Knows no exercise, no opinion, no web, no SQL.

Angles are in degrees, lengths in metres, forces in newtons, moments in newton metres unless a name says
otherwise. Vectors carry their three components on the **first** axis, heads sit on the first axis of
per-head arrays, and the samples of a rep on the **last**.
"""
