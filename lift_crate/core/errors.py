"""One family of errors: what was wrong, where, and what would be right."""

from __future__ import annotations

__all__ = [
    "BadRig",
    "CableTwice",
    "JointCycle",
    "LiftCrateError",
    "LooseUnit",
    "MountedTwice",
    "NoSuchInterface",
    "NoSuchModel",
    "NoSuchUnit",
    "NotAllowed",
    "NotCable",
    "UnknownPort",
]


class LiftCrateError(Exception):
    """Base of every error that Lift Crate raises on purpose."""

    code = "error"


class BadRig(LiftCrateError, ValueError):
    """A rig that cannot be put together on paper, whatever its parts are."""

    code = "rig"


class UnknownPort(BadRig):
    """A joint or link names a port its model does not have."""

    code = "rig.unknown_port"

    def __init__(self, unit: str, port: str, known: tuple[str, ...]) -> None:
        self.unit, self.port, self.known = unit, port, known

    def __str__(self) -> str:
        known = ", ".join(self.known) or "none at all"
        return f"{self.unit} has no port '{self.port}'; its ports are: {known}."


class NoSuchUnit(BadRig):
    """An edit, joint or link names a unit that is not there."""

    code = "rig.unknown_unit"

    def __init__(self, unit: str, where: str) -> None:
        self.unit, self.where = unit, where

    def __str__(self) -> str:
        return f"There is no unit '{self.unit}' {self.where}; give the label of one that is."


class NoSuchModel(BadRig):
    """A unit or a request names a model that is not in the catalogue."""

    code = "shelf.unknown_model"

    def __init__(self, model: str) -> None:
        self.model = model

    def __str__(self) -> str:
        return f"There is no model '{self.model}' in the catalogue; add it first, or choose one that is there."


class NoSuchInterface(LiftCrateError, ValueError):
    """A request names an interface that is not there."""

    code = "shelf.unknown_interface"

    def __init__(self, interface: str) -> None:
        self.interface = interface

    def __str__(self) -> str:
        return f"There is no interface '{self.interface}'; choose one that is there."


class MountedTwice(BadRig):
    """One unit hangs on two joints of the same build."""

    code = "rig.mounted_twice"

    def __init__(self, unit: str, first_parent: str, second_parent: str) -> None:
        self.unit, self.first_parent, self.second_parent = unit, first_parent, second_parent

    def __str__(self) -> str:
        return (
            f"{self.unit} is mounted on {self.first_parent} and again on {self.second_parent}; "
            "a unit hangs on one joint, so take one of the two away."
        )


class JointCycle(BadRig):
    """Joints that lead back to where they started."""

    code = "rig.cycle"

    def __init__(self, units: tuple[str, ...]) -> None:
        self.units = units

    def __str__(self) -> str:
        return (
            f"The joints go in a circle: {' → '.join((*self.units, self.units[0]))}; "
            "every part must lead back to the body."
        )


class LooseUnit(BadRig):
    """A joint hangs on a unit that nothing holds."""

    code = "rig.loose"

    def __init__(self, unit: str, parent: str) -> None:
        self.unit, self.parent = unit, parent

    def __str__(self) -> str:
        return f"{self.unit} is mounted on {self.parent}, which is not part of this build; mount {self.parent} first."


class CableTwice(BadRig):
    """One cable runs twice, or is mounted as a part as well."""

    code = "rig.cable_twice"

    def __init__(self, cable: str) -> None:
        self.cable = cable

    def __str__(self) -> str:
        return (
            f"{self.cable} is in this build twice; a cable runs between two sockets once, so take one of the two away."
        )


class NotCable(BadRig):
    """A link by something that is no cable."""

    code = "rig.not_cable"

    def __init__(self, unit: str) -> None:
        self.unit = unit

    def __str__(self) -> str:
        return f"{self.unit} is no cable and links nothing; mount it on a port instead."


class NotAllowed(BadRig):
    """An edit that makes no sense on this build."""

    code = "rig.not_allowed"
