"""On what terms a customer is told a price: who, for how long, what is put on top, when it is paid."""

from __future__ import annotations

from decimal import Decimal

from pydantic import Field

from stirrup.core.document import Document
from stirrup.core.quantities import Money, Percent


class Terms(Document):
    """Terms of a quote; percents are put on what things cost before tax."""

    customer: str = Field("", max_length=80, title="Customer")
    address: str = Field("", max_length=200, title="Address, lines apart by commas")
    about: str = Field("", max_length=200, title="What it is for")
    days: int = Field(30, ge=1, le=365, title="Holds for, days")
    margin: Percent = Field(
        Decimal(15), ge=0, le=200, decimal_places=2, title="On goods, percent",
        description="for ordering, fetching, what goes wrong",
    )  # fmt: skip
    overhead: Percent = Field(
        Decimal(0), ge=0, le=100, decimal_places=2, title="Overhead on all of it, percent"
    )
    rate: Money | None = Field(
        None, ge=0, le=1000, decimal_places=2, title="An hour for the customer",
        description="empty: as an hour of work costs",
    )  # fmt: skip
    tax: Percent | None = Field(
        None, ge=0, le=50, decimal_places=2, title="Tax, percent", description="empty: as on the Money page"
    )
    work_tax: Percent | None = Field(
        None, ge=0, le=50, decimal_places=2, title="Tax on work, percent", description="empty: as on goods"
    )
    stages: str = Field(
        "Deposit 40; When the work is half done 40; On handing over 20", max_length=300,
        title="Paid in stages: what for and percent; …",
    )  # fmt: skip
