"""The heart: posing, exact clearance, sections, order, advice.

Whoever needs a plan's values imports ``result``, whoever makes one ``make`` and ``advice``: a window that only shows plans brings no engine in.
"""
