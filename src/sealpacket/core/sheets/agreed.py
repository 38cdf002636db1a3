"""How a sheet's questions ask for what the register keeps: prepaid units and limits."""

from __future__ import annotations

from pydantic import Field

from sealpacket.core.sheets.asking import Part


class UnitsBy(Part):
    """Which answers say what is drawn from prepaid units: units are held from sealing on, and used or freed later."""

    item: str = Field(
        max_length=60, description="The question whose answer is an item of the vendor’s prices."
    )
    quantity: str = Field(max_length=60, description="The question that asks how many.")
    day: str = Field("", max_length=60, description="The question that asks for the wished day.")
    used_when: tuple[str, ...] = Field(
        (), description="Words of its status with which units are used; else when it is settled."
    )
    freed_when: tuple[str, ...] = Field(
        (), description="Words of its status with which they are freed."
    )


class LimitsBy(Part):
    """Which rows ask for limits of the register: what they are now is filled in, what is granted can be taken."""

    rows: str = Field(max_length=60, description="The question whose rows ask for limits.")
    region: str = Field(max_length=60, description="The column with the region.")
    resource: str = Field(max_length=60, description="The column with the resource.")
    now: str = Field("", max_length=60, description="The column with the limit as it is now.")
    wanted: str = Field(max_length=60, description="The column with the limit that is wanted.")
    granted: str = Field(
        "", max_length=60, description="The label of the desk’s fact that says how much it granted."
    )
    granted_when: tuple[str, ...] = Field(
        (),
        description="Words of its status with which it grants; without the fact, all that was wanted.",
    )
    declined_when: tuple[str, ...] = Field(
        (), description="Words of its status with which it declines."
    )
    purpose: str = Field(
        "", max_length=60, description="The question that asks what the limits are for."
    )
