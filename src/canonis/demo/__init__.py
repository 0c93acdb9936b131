"""The demo scenario: invented parts, built by recipes."""
