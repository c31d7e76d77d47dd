// Loads the fonts of a game under the names that faces use.
import { useGame } from "../state/store";

export function OwnFonts() {
  const fonts = useGame((state) => state.game?.own_fonts);
  if (!fonts?.length) return null;
  const rules = fonts.map(
    ({ face, file }) =>
      `@font-face { font-family: "Dramok ${face}"; src: url("/api/own-fonts/${file}") format("truetype"); font-weight: 100 900; }`,
  );
  return <style>{rules.join("\n")}</style>;
}
