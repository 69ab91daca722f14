"""Trials: fuel, temperature, noise, mass and track runs, recorded with tool and conditions."""
