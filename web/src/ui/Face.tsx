import { memo } from "react";
import type { Sheet } from "../state/client";
import { useFace } from "../state/faces";

type Props = { card: string; title: string; className?: string };

/** A card's live face, by id. */
export const Face = memo(function Face({ card, title, className }: Props) {
  const svg = useFace(card);
  if (!svg) return <div className={`face-blank ${className ?? ""}`} role="img" aria-label={title} />;
  return <div className={`face-hold ${className ?? ""}`} dangerouslySetInnerHTML={{ __html: svg }} />;
});

/** The face of a sheet. While its card is being typed only the marks that changed are painted again. */
export function SheetFace({ sheet }: { sheet: Sheet }) {
  return (
    <svg className="face" viewBox={sheet.box} role="img" aria-label={sheet.label} textRendering="geometricPrecision">
      {sheet.face.map((part, place) => (
        <Part key={place} part={part} />
      ))}
    </svg>
  );
}

const Part = memo(function Part({ part }: { part: string }) {
  return <g dangerouslySetInnerHTML={{ __html: part }} />;
});
