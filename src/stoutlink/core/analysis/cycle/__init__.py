"""An axle through its travel: poses over heave and roll, what touches, driveline, shocks and springs, how the rig
behaves.
"""
