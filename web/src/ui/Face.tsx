import { memo } from "react";
import { useFace } from "../state/faces";

type Props = { card: string; title: string; className?: string };

/** A card's live face, by id. */
export const Face = memo(function Face({ card, title, className }: Props) {
  const svg = useFace(card);
  if (!svg) return <div className={`face-blank ${className ?? ""}`} role="img" aria-label={title} />;
  return <div className={`face-hold ${className ?? ""}`} dangerouslySetInnerHTML={{ __html: svg }} />;
});
