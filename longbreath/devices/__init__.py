"""Drivers of live devices over pyserial addresses, and the stand-ins that ship with them."""
