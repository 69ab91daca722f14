"""What every rule stands on: units, constants, errors, workings, the register of reckonings."""
