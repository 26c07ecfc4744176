"""The language of a site's pages."""

from typing import Annotated

from needle.core.values.strict import strict_meta

__all__ = ["ENGLISH", "LANGUAGES", "Language"]

Language = Annotated[str, strict_meta("language", "[a-z]{2,3}(?:-[A-Z]{2})?")]
ENGLISH = "en"
# Those that are offered; any other that is well formed is kept, too (BCP 47).
LANGUAGES = ("en", "en-GB", "en-US", "bg", "cs", "da", "de", "de-AT", "de-CH", "el", "es", "et",
             "fi", "fr", "fr-CH", "ga", "hr", "hu", "is", "it", "lt", "lv", "mt", "nb", "nl", "pl",
             "pt", "pt-BR", "ro", "sk", "sl", "sv", "tr", "uk")
