"""What a statement means: one frozen object for source lines and drawn statements alike, its only writer and its only reader."""

from canonis.core.callout import kinds as kinds
