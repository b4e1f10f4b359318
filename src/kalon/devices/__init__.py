"""Practice devices: they make scans, tracings and pressure mats of made-up feet whose true measures are known."""
