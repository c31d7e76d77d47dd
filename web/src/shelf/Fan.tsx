// A game's face on the shelf: three of its cards, fanned.
import { memo } from "react";
import { useAsked } from "../state/asked";
import { api, ask } from "../state/client";

export const Fan = memo(function Fan({ game, edited }: { game: string; edited: string }) {
  const { found } = useAsked(
    () => ask(api.GET("/api/shelf/{game_id}/fan", { params: { path: { game_id: game } } })),
    [game, edited],
  );
  return (
    <span className="fan mat" aria-hidden="true">
      {found?.length === 0 && <span className="fan-none on-mat-soft">no cards yet</span>}
      {found?.map((each) => (
        <span key={each.title} className="fan-card" dangerouslySetInnerHTML={{ __html: each.svg }} />
      ))}
    </span>
  );
});
