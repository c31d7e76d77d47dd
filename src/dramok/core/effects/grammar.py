"""The grammar, LALR without conflicts. Every step opens with a reserved word of its own."""

from __future__ import annotations

from collections.abc import Mapping

from dramok.core.effects.verbs import CUES, VERBS, Form

_FORMS: Mapping[Form, str] = {
    "amount": "{verb} amount",
    "target": "{verb} amount TO target",
    "resource": "{verb} amount NAME",
    "stat": "{verb} NAME OF THIS BY amount",
}


def _rule(lasting: bool) -> str:
    """The ways in which a step can stand, each named for its verb; or a lasting change."""
    found = [verb for verb in VERBS.values() if (verb.form == "stat") == lasting]
    return "\n    | ".join(
        f"{_FORMS[verb.form].replace('{verb}', verb.word.upper())} -> {verb.word}_" for verb in found
    )


GRAMMAR = f"""
ability: UPON cue COLON steps   -> triggered
       | ALWAYS COLON raises    -> continuous
cue: {" | ".join(f"{cue.upper()} THIS" for cue in CUES)}
steps: step (SEMICOLON step)*
raises: raise_ (SEMICOLON raise_)*

step: {_rule(lasting=False)}
raise_: {_rule(lasting=True)}

amount: NUMBER                    -> number
      | COUNT OPEN group CLOSE    -> count
target: THIS                      -> this
      | IT                        -> it
      | PICK span group           -> pick
      | ALL group                 -> all
      | RANDOM [NUMBER] group     -> random
span: [NUMBER [DOTS NUMBER]]
group: [side] noun [filters]
side: OWN | RIVAL
noun: CARD | NAME
filters: OPEN_FILTER filter (COMMA filter)* CLOSE_FILTER
filter: OTHER                     -> other
      | TAG NAME                  -> tag
      | NAME IS NAME              -> choice
      | NAME IS NUMBER            -> compare
      | NAME ABOVE NUMBER         -> compare
      | NAME UNDER NUMBER         -> compare
      | NOT filter                -> not_

%declare UPON ALWAYS THIS IT OF BY TO {" ".join(word.upper() for word in (*CUES, *VERBS))}
%declare PICK ALL RANDOM OWN RIVAL CARD COUNT OTHER TAG NOT IS ABOVE UNDER
%declare NAME NUMBER DOTS COLON SEMICOLON COMMA OPEN_FILTER CLOSE_FILTER OPEN CLOSE BAD
"""

PLAIN = {
    "NAME": "a name",
    "NUMBER": "a whole number",
    "DOTS": "..",
    "COLON": ":",
    "SEMICOLON": ";",
    "COMMA": ",",
    "OPEN_FILTER": "[",
    "CLOSE_FILTER": "]",
    "OPEN": "(",
    "CLOSE": ")",
    "$END": "the end of the step",
}


def plain(terminal: str) -> str:
    """What a terminal is called to a person."""
    return PLAIN.get(terminal, terminal.lower())
