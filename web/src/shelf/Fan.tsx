// A game's face on the shelf: three of its cards, fanned. Those far below are fetched when one comes near.
import { memo, useEffect, useRef, useState } from "react";
import { useAsked } from "../state/asked";
import { api, ask } from "../state/client";

const NEAR = "300px";

export const Fan = memo(function Fan({ game, edited }: { game: string; edited: string }) {
  const box = useRef<HTMLSpanElement>(null);
  const [near, setNear] = useState(false);
  useEffect(() => {
    const element = box.current;
    if (!element) return;
    const watch = new IntersectionObserver((seen) => seen.some((each) => each.isIntersecting) && setNear(true), {
      rootMargin: NEAR,
    });
    watch.observe(element);
    return () => watch.disconnect();
  }, []);
  const { found } = useAsked(
    near ? () => ask(api.GET("/api/shelf/{game_id}/fan", { params: { path: { game_id: game } } })) : null,
    [game, edited, near],
  );
  return (
    <span className="fan mat" aria-hidden="true" ref={box}>
      {found?.length === 0 && <span className="fan-none on-mat-soft">no cards yet</span>}
      {found?.map((each) => (
        <span key={each.title} className="fan-card" dangerouslySetInnerHTML={{ __html: each.svg }} />
      ))}
    </span>
  );
});
