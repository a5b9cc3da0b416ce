#!/usr/bin/python3
# Noisy ways filtered by SciPy's filtfilt, to hold our filter without delay against: Butterworth of the second order, its
# frequency corrected for two passes (Winter, Biomechanics and Motor Control of Human Movement, 2.2.4.4).
# Writes core/src/test/resources/org/cleanmarrow/pose/filtered.json. Run: tools/reference/filter.py (numpy, scipy)
import json, os
import numpy as np
from scipy.signal import butter, filtfilt

out = []
rng = np.random.default_rng(7)
for rate, hertz, n in [(30, 6, 90), (120, 6, 400), (60, 10, 61), (24, 3, 25)]:
    t = np.arange(n) / rate
    x = np.sin(2 * np.pi * 1.3 * t) + 0.4 * t + 0.05 * rng.standard_normal(n)
    twice = (np.sqrt(2) - 1) ** 0.25
    corrected = rate / np.pi * np.arctan(np.tan(np.pi * hertz / rate) / twice)
    b, a = butter(2, corrected, fs=rate)
    out.append({"rate": rate, "hertz": hertz, "way": x.tolist(), "filtered": filtfilt(b, a, x).tolist()})
path = os.path.join(os.path.dirname(__file__), "../../core/src/test/resources/org/cleanmarrow/pose/filtered.json")
os.makedirs(os.path.dirname(path), exist_ok=True)
json.dump(out, open(path, "w"))
