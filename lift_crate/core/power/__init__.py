"""Who feeds whom: discharge of packs, voltages and currents through every cable, and their call-outs."""
