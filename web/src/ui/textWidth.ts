// The width of a text in the grid's font, in pixels.
let pen: CanvasRenderingContext2D | null | undefined;

export function textWidth(text: string): number {
  pen ??= document.createElement("canvas").getContext("2d");
  if (!pen) return text.length * 7;
  pen.font = '14px "Dramok Body", sans-serif';
  return pen.measureText(text.slice(0, 80)).width;
}
