// Between the two sides: the turn with its phases, and the current decision, in one line.
import { useGame } from "../../state/store";
import { counted } from "../../ui/plural";
import { onward, type Spoken, spoken } from "../options";
import type { Deciding, Playtest } from "../types";

type Props = { table: Playtest; waiting: boolean; decide: (found: Deciding) => void; children?: React.ReactNode };

export function Decision({ table, waiting, decide, children }: Props) {
  const game = useGame((state) => state.game);
  const { view } = table;
  const text = waiting ? "The server can't be reached. Your move is sent when it is back." : asked(table);
  const next = onward(table);
  const choices = spoken(table).filter(
    (option) =>
      (option.card < 0 || table.actions.includes(option.card)) &&
      !["done", "cancel", "draw", "end turn"].includes(option.do),
  );
  const watched = !table.players.includes("person");
  const other = table.players.length > 2 ? `seat ${view.active + 1}’s` : "your rival’s";
  const whose = watched ? `seat ${view.active + 1}’s` : view.active === table.seat ? "your" : other;
  return (
    <div className="middle-line">
      <div className="table-who">
        <span className="num">
          {game?.turn} {view.turn}
        </span>
        {view.phase && table.players.length > 1 && (
          <>
            {" · "}
            <b>
              {whose} {view.phase}
            </b>
          </>
        )}
      </div>
      <div
        className={`asked ${table.options.length || table.asked === "over" ? "asked-needs" : ""}`}
        role="status"
        aria-live="assertive"
      >
        <span>{text}</span>
        {table.unwritten.length > 0 && (
          <span className="asked-by-hand">
            {table.unwritten.map((each) => table.titles[each]).join(", ")}: not all of it plays by itself. Do the rest
            by hand.
          </span>
        )}
        {choices.map((option) => (
          <button
            key={`${option.do} ${option.card} ${option.other}`}
            type="button"
            className={option.card >= 0 ? "asked-button asked-action" : "asked-button"}
            onClick={() => decide(() => option)}
          >
            {option.card >= 0 ? actionSaid(option.says) : option.says}
          </button>
        ))}
        {table.options.some((option) => option.do === "cancel") && (
          <button
            type="button"
            className="asked-button"
            aria-keyshortcuts="Escape"
            onClick={() => decide((now) => spoken(now).find((option) => option.do === "cancel") ?? null)}
          >
            Cancel <span className="key-cap" data-key="Esc" />
          </button>
        )}
        {next && (
          <button
            type="button"
            className="asked-button asked-next"
            aria-keyshortcuts="N"
            onClick={() => decide((now) => onward(now))}
          >
            {nextSaid(table, next)} <span className="key-cap" data-key="N" />
          </button>
        )}
      </div>
      {children}
    </div>
  );
}

/** The name of an action of the rules, and what it does in a lighter weight. */
function actionSaid(says: string): React.ReactNode {
  const at = says.indexOf(": ");
  if (at < 0) return says;
  return (
    <>
      {says.slice(0, at + 1)} <span>{says.slice(at + 2)}</span>
    </>
  );
}

function nextSaid(table: Playtest, next: Spoken): string {
  if (next.do === "end turn") return next.says;
  return table.asked === "pick" || table.asked === "declare" ? "Done picking" : "Done";
}

function asked(table: Playtest): string {
  if (table.at >= 0) return `As it stood after ${counted(table.at, "decision")}.`;
  const said: Record<string, string> = {
    act: yourMove(table),
    pick: "Pick a flagged card.",
    declare: "Choose a target (nothing is paid yet).",
    discard: "Discard a card.",
    "hand limit": "Your hand is over its limit: discard a card.",
    host: "Choose the card that it goes on (nothing is paid yet).",
    may: table.asking ? `${table.asking} asks: do it?` : "Do it?",
    choose: table.asking ? `${table.asking}: choose.` : "Choose.",
    clash: "Choose cards to clash, then press Done.",
    answer: "Answer the clash, or let it through.",
    redraw: "Keep this hand, or press the cards to give back.",
    "answer play": `${table.asking} was played: answer it, or let it be.`,
    "give back": "More than you can hold: give back.",
    over: ending(table),
    broken: table.broken,
  };
  if (!table.options.length && table.asked !== "over" && table.asked !== "broken") {
    const two = table.players.length === 2 && table.players.includes("person");
    return two ? "Your rival decides." : `Seat ${table.view.deciding + 1} decides.`;
  }
  return said[table.asked] ?? "Your move.";
}

/** What can be done in a phase of play. */
function yourMove(table: Playtest): string {
  const can = (...what: string[]) => table.options.some((option) => what.includes(option.do));
  const uses = table.options.some((option) => option.do === "use" && !table.actions.includes(option.card));
  const ways = [
    ...(can("play") ? ["play a card"] : uses ? ["use a card"] : []),
    ...(can("buy") ? ["buy a card"] : []),
    ...(table.actions.length ? ["act"] : []),
  ];
  if (!ways.length) return "Your move.";
  return `Your move: ${[...ways, ...(can("end turn") ? ["end the phase"] : [])].join(", ").replace(/, ([^,]*)$/, ", or $1")}.`;
}

/** How a match ended, for the person. */
export function ending(table: Playtest): string {
  const { winner } = table.view;
  if (winner >= 0 && !table.players.includes("person")) return `Seat ${winner + 1} has won.`;
  if (winner === table.seat) return "You have won.";
  // A deck's name says who it was only where the two decks have different ones.
  const deck = table.rival && table.rival !== table.deck_name ? ` with ${table.rival}` : "";
  if (winner >= 0) return table.players.length > 2 ? `Seat ${winner + 1} has won.` : `Your rival has won${deck}.`;
  const cut = table.log[table.log.length - 1]?.text.startsWith("Cut off");
  return cut ? "This game was cut off: see the end of the log." : "Nobody has won: a draw.";
}
