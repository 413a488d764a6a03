"""What a layout hangs by besides its motion: leaves, loads, joints, holes, fit, steering, the search."""
