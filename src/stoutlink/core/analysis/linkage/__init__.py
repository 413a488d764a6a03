"""One layout at ride height and near it: motion, loads, joints, holes, cuts, leaves."""
