// The first Tab stop of every room: skips the top bar.

/** What a room is for, marked by the room: the grid of cards, the table, the map. Without a mark it is the room itself. */
const MAIN = "[data-main]";

export function SkipLink() {
  return (
    <button
      type="button"
      className="skip-link"
      onClick={() => {
        const main = document.querySelector<HTMLElement>(MAIN) ?? document.querySelector<HTMLElement>(".room");
        main?.focus();
      }}
    >
      Skip to the main area
    </button>
  );
}
