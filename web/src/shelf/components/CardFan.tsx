// Three fanned cards of a game, loaded when they come near the visible area.

import { memo, useEffect, useRef, useState } from "react";
import { useAsked } from "../../state/query";
import * as requests from "../api";

const NEAR = "300px";
/** The area of a card on the shelf, in square pixels: cards of every shape are as large as one another. */
const AREA = 13_000;

function widthOf(svg: string): number {
  const [, , wide = 5, high = 7] = (/viewBox="([^"]+)"/.exec(svg)?.[1] ?? "").split(/\s+/).map(Number);
  return Math.round(Math.sqrt((AREA * wide) / high) || 96);
}

export const CardFan = memo(function Fan({ game, edited }: { game: string; edited: string }) {
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
  const { found } = useAsked(near ? () => requests.fan({ params: { path: { game_id: game } } }) : null, [
    game,
    edited,
    near,
  ]);
  return (
    <span className="fan mat" aria-hidden="true" ref={box}>
      {found?.length === 0 && <span className="fan-none on-mat-soft">no cards yet</span>}
      {found?.map((each) => (
        <span
          key={each.title}
          className="fan-card"
          style={{ width: widthOf(each.svg) }}
          dangerouslySetInnerHTML={{ __html: each.svg }}
        />
      ))}
    </span>
  );
});
