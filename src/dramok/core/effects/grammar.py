"""The grammar, LALR without conflicts. Every step opens with a reserved word of its own."""

GRAMMAR = """
ability: UPON cue COLON steps   -> triggered
       | ALWAYS COLON raises    -> continuous
cue: PLAY THIS | ENTER THIS | LEAVE THIS
steps: step (SEMICOLON step)*
raises: raise_ (SEMICOLON raise_)*

step: DRAW amount                 -> draw
    | DISCARD amount              -> discard
    | DEAL amount TO target       -> deal
    | RESTORE amount TO target    -> restore
    | GAIN amount NAME            -> gain
    | LOSE amount NAME            -> lose
raise_: RAISE NAME OF THIS BY amount

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

%declare UPON ALWAYS PLAY ENTER LEAVE THIS IT DRAW DISCARD DEAL RESTORE GAIN LOSE RAISE OF BY TO
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
