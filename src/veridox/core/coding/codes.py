"""The codes of a ledger that lines are booked under."""

from collections.abc import Mapping
from dataclasses import dataclass, field
from decimal import Decimal


@dataclass(frozen=True, kw_only=True, slots=True)
class GlAccount:
    """An account of the general ledger.

    Attributes:
        code, name: in the ledger.
        closed: nothing more is booked on it.
        needs_cost_centre: what is booked on it names a cost centre.
    """

    code: str
    name: str = ""
    closed: bool = False
    needs_cost_centre: bool = False


@dataclass(frozen=True, kw_only=True, slots=True)
class CostCentre:
    """A cost centre, with the mail address of who answers for it; empty where nobody is named."""

    code: str
    name: str = ""
    owner: str = ""
    closed: bool = False


@dataclass(frozen=True, kw_only=True, slots=True)
class Project:
    """A project that costs are booked to, with the mail address of who leads it; empty where
    nobody is named."""

    code: str
    name: str = ""
    owner: str = ""
    closed: bool = False


@dataclass(frozen=True, kw_only=True, slots=True)
class TaxCode:
    """A tax code, and what it is for; what is empty or None holds for all.

    Attributes:
        code, name: in the ledger.
        country: of the vendor, ISO 3166.
        category: of the tax (BT-151), as S, Z, E, AE, K, G.
        rate: in percent.
        supply: `goods` or `services`.
    """

    code: str
    name: str = ""
    country: str = ""
    category: str = ""
    rate: Decimal | None = None
    supply: str = ""
    closed: bool = False


@dataclass(frozen=True, kw_only=True, slots=True)
class LedgerCodes:
    """All codes of a company's ledger, by code; tax codes in their order. A ledger without a list
    of projects takes any text for one."""

    accounts: Mapping[str, GlAccount] = field(default_factory=dict)
    cost_centres: Mapping[str, CostCentre] = field(default_factory=dict)
    tax_codes: tuple[TaxCode, ...] = ()
    projects: Mapping[str, Project] = field(default_factory=dict)

    def listed(
        self, dimension: str
    ) -> Mapping[str, GlAccount | CostCentre | TaxCode | Project] | None:
        """The ledger's list for a dimension, by code; None where it keeps none of projects."""
        if dimension == "gl_account":
            return self.accounts
        if dimension == "cost_centre":
            return self.cost_centres
        if dimension == "project":
            return self.projects or None
        return {each.code: each for each in self.tax_codes} if dimension == "tax_code" else None
