"""What is measured, as ratios in one run. Run one with bench/NAME."""
