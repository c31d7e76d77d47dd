"""The LALR grammar, without conflicts. Every step starts with its own reserved word."""

from __future__ import annotations

from collections.abc import Mapping

from dramok.core.effects.verbs import ALLOWED, CUES, FORBIDDEN, VERBS, Moment, Slot, Verb

_SLOTS: Mapping[Slot, str] = {
    "amount": "amount",
    "resource": "resource",
    "seats": "[seats]",
    "to": "TO target",
    "target": "target",
    "stat": "stat OF target BY amount",
    "until": "[until]",
    "put": "TO zone",
    "from_zone": "[OF zone]",
    "zone": "zone",
    "made": "made",
    "grant": "keyword TO target",
    "strip": "keyword OF target",
    "act": "{verb}_act target",
    "steps": "block",
    "options": "NUMBER OF OPEN steps (BAR steps)+ CLOSE",
    "group": "group",
    "condition": "condition",
    "otherwise": "[OTHERWISE block]",
    "cost": "cost",
    "moment": "moment",
}
_CUES: Mapping[Moment, str] = {
    "card": "{cue} subject",
    "whose": "{cue} whose",
    "match": "{cue}",
    "total": "{cue} [RIVAL] resource [bound]",
}


def _form(verb: Verb) -> str:
    return " ".join([verb.word.upper(), *(_SLOTS[slot] for slot in verb.slots)]).replace("{verb}", verb.word)


def _rule(verbs: list[Verb]) -> str:
    return "\n    | ".join(f"{_form(verb)} -> {verb.word}_" for verb in verbs)


def _lasting(verb: Verb) -> str:
    return f"{_form(verb)} -> {verb.word}_".replace(" [until]", "")


def _cue(word: str) -> str:
    form = _CUES[CUES[word].about].replace("{cue}", word.upper())
    return f"{form} [FROM group] -> {word}_" if word == "hurt" else f"{form} -> {word}_"


_EACH = [*CUES, *(verb for verb in VERBS if verb not in CUES)]
_DECLARED = sorted({*(word.upper() for word in _EACH), *(act.upper() for act in (*FORBIDDEN, *ALLOWED))})

GRAMMAR = f"""
ability: UPON cue guards COLON steps   -> triggered
       | OFFER (FREE | cost) guards COLON steps -> offered
       | ALWAYS guards COLON lastings  -> continuous
       | HAS keyword (COMMA keyword)*  -> keyworded
cue: {(chr(10) + "    | ").join(_cue(word) for word in CUES)}
subject: THIS | group
whose: [SIDE_] (TURN | phase)
bound: (ABOVE | UNDER) NUMBER
guards: (COMMA guard)*
guard: LIMIT NUMBER A (TURN | GAME) -> limit
     | IF condition               -> if_
steps: step (SEMICOLON step)*
lastings: lasting (SEMICOLON lasting)*
block: OPEN steps CLOSE

step: {_rule(list(VERBS.values()))}
lasting: {(chr(10) + "    | ").join(_lasting(verb) for verb in VERBS.values() if verb.lasting)}

amount: NUMBER                               -> number
      | COUNT OPEN group CLOSE               -> count
      | SUM OPEN stat OF group CLOSE         -> sum_of
      | stat OF pointed                      -> stat_of
      | (LEAST | MOST) OPEN sum COMMA sum CLOSE -> extreme
      | OPEN sum CLOSE                       -> inner
sum: product ((PLUS | MINUS) product)*
product: atom (TIMES atom)*
atom: amount                                 -> plain
    | HELD [RIVAL] resource                  -> held
    | HALF [UP] atom                         -> half
condition: both (OR both)*
both: unless (AND unless)*
unless: NOT unless | comparison
comparison: sum (IS | ABOVE | UNDER) sum

seats: FOR (RIVAL | ALL)
     | FOR (MOST | LEAST) atom -> best_seats
until: UNTIL moment
moment: [BEGIN | END] whose
cost: part (PLUS part)*
part: PAY NUMBER resource -> pay
    | (TILT | DESTROY | RETURN) THIS -> self
    | DISCARD NUMBER -> discards
forbid_act: {" | ".join(act.upper() for act in FORBIDDEN)}
allow_act: {" | ".join(act.upper() for act in ALLOWED)}
zone: [SIDE_] NAME [TOP | BOTTOM]

resource: NAME
stat: NAME
keyword: NAME
made: NAME
phase: NAME
pointed: THIS | THAT | IT | HOST
target: pointed                   -> pointing
      | PICK span (group | OF IT) -> pick
      | ALL group                 -> all
      | RANDOM [NUMBER] group     -> random
span: [NUMBER [DOTS NUMBER]]
group: [SIDE_] noun [filters] [IN NAME | EVERYWHERE]
noun: CARD | NAME
filters: OPEN_FILTER filter (COMMA filter)* CLOSE_FILTER
filter: OTHER                     -> other
      | TAG NAME                  -> tag
      | HAS NAME                  -> has
      | (TILTED | WOUNDED | CREATED) -> state
      | NAME IS NAME              -> choice
      | NAME IS NUMBER            -> compare
      | NAME ABOVE NUMBER         -> compare
      | NAME UNDER NUMBER         -> compare
      | NOT filter                -> not_

%declare UPON ALWAYS THIS THAT IT HOST OF BY TO FROM {" ".join(_DECLARED)}
%declare PICK ALL RANDOM OWN RIVAL CARD COUNT SUM EVERYWHERE OTHER TAG NOT IS ABOVE UNDER AND OR HAS TILTED WOUNDED CREATED IN
%declare FREE LIMIT A TURN GAME UNTIL OTHERWISE PAY FOR HELD HALF UP LEAST MOST TOP BOTTOM TIMES
%declare NAME NUMBER DOTS COLON SEMICOLON COMMA OPEN_FILTER CLOSE_FILTER OPEN CLOSE BAR PLUS MINUS BAD
""".replace("SIDE_", "OWN | RIVAL")

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
    "BAR": "|",
    "PLUS": "+",
    "MINUS": "-",
    "TIMES": "x",
    "$END": "the end of the step",
}


def plain(terminal: str) -> str:
    """A readable name for a terminal."""
    return PLAIN.get(terminal, terminal.lower())
