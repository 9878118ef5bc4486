"""A stand-in for a gimbal that tells what its motors hold, with noise, play and a rig that is never quite as computed
(docs/gimbal-protocol.md).

What is calibrated stays so until another rig is hung. ``H TILT ROLL PAN`` hangs a rig that pulls so hard, N·m, which
a real gimbal feels by itself.
"""

from __future__ import annotations

from .simulated import SimulatedDevice

__all__ = ["SimulatedGimbal"]

_NOISE_NM = 0.001
_PLAY_NM = 0.004
"""Friction carries this much before a motor must."""
_OFF_SHARE, _OFF_NM = 0.03, 0.004
"""How far a rig as it hangs is from the computed one."""


class SimulatedGimbal(SimulatedDevice):
    """The gimbal: off and empty until it is switched on and a rig is hung."""

    def __init__(self, port: int = 0, *, seed: int = 1) -> None:
        super().__init__(port, seed=seed)
        self._on, self._pulls_nm = False, (0.0, 0.0, 0.0)
        self._told, self._calibrated = "", False

    def reply(self, command: str, rest: str) -> str:
        """The gimbal's protocol, and ``H``."""
        if command == "P" and rest in ("0", "1"):
            self._on = rest == "1"
            return "OK"
        asked = {"I": self._name, "S": self._state, "L": self._loads, "C": self._calibrate}.get(command)
        if asked:
            return asked()
        if command == "H":
            return self._hang(rest)
        return (
            f"E unknown command {command[:20]!r}; L loads, C calibrates, S tells whether it is, P 1 and P 0 on and off,"
            " I tells who is there"
        )

    def _name(self) -> str:
        return "I simulated gimbal"

    def _state(self) -> str:
        return f"S {'calibrated' if self._calibrated else 'old'}"

    def _calibrate(self) -> str:
        self._calibrated = self._calibrated or self._on
        return "OK" if self._on else "E off"

    def _loads(self) -> str:
        if not self._on:
            return "E off"
        held = (max(0.0, pull - _PLAY_NM) + abs(self.random.gauss(0, _NOISE_NM)) for pull in self._pulls_nm)
        return "L " + " ".join(f"{nm:.3f}" for nm in held)

    def _hang(self, rest: str) -> str:
        try:
            pulls = [float(word) for word in rest.split()]
        except ValueError:
            return f"E {rest[:40]!r} are no torques in N·m".encode("ascii", "replace").decode()
        if len(pulls) != 3 or not all(0 <= nm <= 100 for nm in pulls):
            return "E three torques from 0 to 100 Nm, tilt roll pan"
        tilt, roll, pan = (
            max(0.0, nm * (1 + self.random.gauss(0, _OFF_SHARE)) + self.random.gauss(0, _OFF_NM)) for nm in pulls
        )
        self._pulls_nm = tilt, roll, pan
        if rest != self._told:
            self._told, self._calibrated = rest, False
        return "OK"
