// A symbol of faces: a path in the text colour, or a picture.
type Props = {
  symbol: { path: string; art?: string } | undefined;
  size: number;
  className?: string;
  /** What it is called, for those who hear it; without it, it is not mentioned. */
  label?: string;
};

export function SymbolMark({ symbol, size, className, label }: Props) {
  if (symbol?.art)
    return (
      <img
        className={`symbol-picture ${className ?? ""}`}
        src={`/api/art/${symbol.art}?side=128`}
        width={size}
        height={size}
        alt={label ?? ""}
      />
    );
  const named = label ? ({ role: "img", "aria-label": label } as const) : ({ "aria-hidden": true } as const);
  return (
    <svg width={size} height={size} viewBox="0 0 256 256" className={className} {...named}>
      {symbol?.path && <path d={symbol.path} fill="currentColor" />}
    </svg>
  );
}
