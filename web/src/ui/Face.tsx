import { memo, useEffect, useRef, useState } from "react";
import type { Sheet } from "../state/client";
import { useFace } from "../state/faces";
import { whenRoom } from "./idleWork";

type Props = { card: string; title: string; className?: string };

/** A card's live face, by id. Many at once are painted a few a frame. */
export const Face = memo(function Face({ card, title, className }: Props) {
  const svg = useFace(card);
  const holder = useRef<HTMLDivElement>(null);
  const [painted, setPainted] = useState(false);
  useEffect(() => {
    if (!svg) return;
    return whenRoom(() => {
      if (holder.current) holder.current.innerHTML = svg;
      setPainted(true);
    });
  }, [svg]);
  if (!svg) return <div className={`face-blank ${className ?? ""}`} role="img" aria-label={title} />;
  return <div ref={holder} className={`face-hold ${painted ? "" : "face-blank"} ${className ?? ""}`} />;
});

/** The face of a sheet. While its card is being typed only the marks that changed are painted again. */
export function SheetFace({ sheet }: { sheet: Pick<Sheet, "box" | "cut" | "label" | "face"> }) {
  return (
    <svg
      className="face"
      style={cutBy(sheet.cut)}
      viewBox={sheet.box}
      role="img"
      aria-label={sheet.label}
      textRendering="geometricPrecision"
    >
      {sheet.face.map((part, place) => (
        <Part key={place} part={part} />
      ))}
    </svg>
  );
}

/** A CSS declaration of the server's, as a style. */
export function cutBy(declaration: string): React.CSSProperties {
  const [name, value] = declaration.split(":");
  return name === "clip-path" ? { clipPath: value, boxShadow: "none" } : { borderRadius: value };
}

export const Part = memo(function Part({ part }: { part: string }) {
  return <g dangerouslySetInnerHTML={{ __html: part }} />;
});
