// A card's text in one line with symbols; struck through if it would be removed.
import { useGame } from "../../state/store";
import { SymbolMark } from "../../ui/SymbolMark";

export function TextDiffLine({ lines, gone = false }: { lines: string[]; gone?: boolean }) {
  const symbols = useGame((state) => state.game?.symbols);
  const pieces = lines.join(" ").split(/(\{[a-z0-9-]+\})/);
  const text = pieces.map((piece, at) => {
    const symbol = symbols?.find((each) => `{${each.id}}` === piece);
    const key = `${at} ${piece}`;
    if (!symbol) return <span key={key}>{piece}</span>;
    return <SymbolMark key={key} symbol={symbol} size={14} className="symbol-in-line" label={symbol.name} />;
  });
  if (gone) return <del className="soft">{text}</del>;
  return <p>{text}</p>;
}
