"""Django models, one noun a file."""

from palinode.records.models.answer import Answer, Body, Facts, HeaderSet, Segment, Target
from palinode.records.models.api_sign_in import ApiSignIn
from palinode.records.models.capture import Capture, CaptureFile, Frontier, Pattern, Share
from palinode.records.models.capture_set import ComparisonCapture, SetMember
from palinode.records.models.comparison import Comparison, ComparisonCheck, ComparisonFindings, Judgement
from palinode.records.models.database_sign_in import DatabaseSignIn
from palinode.records.models.decision import Decision
from palinode.records.models.imported import Import
from palinode.records.models.move import Address, FurtherHost, Host, ImportedAddress, Membership, Move, Side
from palinode.records.models.outcome import (
    CheckColumn,
    CheckFinding,
    CheckItems,
    CheckOptions,
    CheckOutcome,
    CheckRowBlock,
)
from palinode.records.models.token import Token

__all__ = [
    "Address",
    "Answer",
    "ApiSignIn",
    "Body",
    "Capture",
    "CaptureFile",
    "CheckColumn",
    "CheckFinding",
    "CheckItems",
    "CheckOptions",
    "CheckOutcome",
    "CheckRowBlock",
    "Comparison",
    "ComparisonCapture",
    "ComparisonCheck",
    "ComparisonFindings",
    "DatabaseSignIn",
    "Decision",
    "Facts",
    "Frontier",
    "FurtherHost",
    "HeaderSet",
    "Host",
    "Import",
    "ImportedAddress",
    "Judgement",
    "Membership",
    "Move",
    "Pattern",
    "Segment",
    "SetMember",
    "Share",
    "Side",
    "Target",
    "Token",
]
