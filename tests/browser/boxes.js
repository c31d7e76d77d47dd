// What is wrong with the texts of a page by their boxes: gone without a way to scroll there, clipped, covered, over each other.
() => {
  const known = new Map();
  const clips = (element) => {
    // Role of the window in which an element can be seen, and whether what lies beyond can be scrolled to.
    if (!element || element === document.documentElement) return { box: { left: 0, top: 0, right: innerWidth, bottom: innerHeight }, scrolls: false, dots: false };
    if (known.has(element)) return known.get(element);
    let { box, scrolls, dots } = clips(element.parentElement);
    const style = getComputedStyle(element);
    if (style.textOverflow === "ellipsis") dots = true;
    if (style.overflowX !== "visible" || style.overflowY !== "visible") {
      const rect = element.getBoundingClientRect();
      if (/auto|scroll/.test(style.overflowX + style.overflowY)) scrolls = true;
      box = { left: Math.max(box.left, rect.left), top: Math.max(box.top, rect.top), right: Math.min(box.right, rect.right), bottom: Math.min(box.bottom, rect.bottom) };
    }
    known.set(element, { box, scrolls, dots });
    return known.get(element);
  };
  const texts = [];
  const walker = document.createTreeWalker(document.body, NodeFilter.SHOW_TEXT);
  for (let node = walker.nextNode(); node; node = walker.nextNode()) {
    const element = node.parentElement;
    if (!node.data.trim() || !element || element.closest("svg.face, .page-sheet, .face-hold, .unseen, script, style, option, .cm-editor, [aria-hidden=true] .face-hold")) continue;
    const style = getComputedStyle(element);
    if (style.visibility === "hidden" || style.opacity === "0" || style.clipPath !== "none") continue;
    // What is folded away has boxes, too.
    if (!element.checkVisibility({ contentVisibilityAuto: true })) continue;
    const range = document.createRange();
    range.selectNodeContents(node);
    for (const rect of range.getClientRects()) {
      if (rect.width < 3 || rect.height < 5) continue;
      const { box, scrolls, dots } = clips(element);
      const seen = { left: Math.max(rect.left, box.left), top: Math.max(rect.top, box.top), right: Math.min(rect.right, box.right), bottom: Math.min(rect.bottom, box.bottom) };
      const gone = seen.right - seen.left < 3 || seen.bottom - seen.top < 4;
      texts.push({ text: node.data.trim().slice(0, 40), element, rect, seen, gone, scrolls, dots, where: element.closest("[class]")?.className?.baseVal ?? element.closest("[class]")?.className ?? element.tagName });
    }
  }
  const found = [];
  for (const each of texts) {
    if (each.gone) {
      if (!each.scrolls && each.rect.right > 0 && each.rect.bottom > 0) found.push(`gone: ${each.text} (${each.where})`);
      continue;
    }
    const cut = each.rect.right - each.seen.right > 2 || each.seen.left - each.rect.left > 2 || each.rect.bottom - each.seen.bottom > 4;
    if (cut && !each.scrolls && !each.dots) found.push(`clipped: ${each.text} (${each.where})`);
    const x = (each.seen.left + each.seen.right) / 2, y = (each.seen.top + each.seen.bottom) / 2;
    const top = document.elementFromPoint(x, y);
    if (top && !each.element.closest(".map-mark") && top !== each.element && !each.element.contains(top) && !top.contains(each.element) && getComputedStyle(each.element).pointerEvents !== "none" && !top.closest("label, button, a")?.contains(each.element))
      found.push(`covered: ${each.text} (${each.where}) by ${top.tagName}.${top.className?.baseVal ?? top.className}`);
  }
  const shown = texts.filter((each) => !each.gone).sort((one, other) => one.seen.top - other.seen.top);
  for (let a = 0; a < shown.length; a++)
    for (let b = a + 1; b < shown.length; b++) {
      const one = shown[a], other = shown[b];
      // From here on all begin further down.
      if (other.seen.top > one.seen.bottom - 5) break;
      const wide = Math.min(one.seen.right, other.seen.right) - Math.max(one.seen.left, other.seen.left);
      const high = Math.min(one.seen.bottom, other.seen.bottom) - Math.max(one.seen.top, other.seen.top);
      const within = (inner, outer) => outer.contains(inner) && outer.tagName !== "DIV";
      if (wide > 3 && high > 5 && one.element !== other.element && !within(other.element, one.element) && !within(one.element, other.element)) {
        const x = Math.max(one.seen.left, other.seen.left) + wide / 2, y = Math.max(one.seen.top, other.seen.top) + high / 2;
        const top = document.elementFromPoint(x, y);
        const over = (each) => top && (top === each.element || top.contains(each.element) || each.element.contains(top));
        if (over(one) && over(other)) found.push(`over each other: ${one.text} (${one.where}) and ${other.text} (${other.where})`);
      }
    }
  return [...new Set(found)];
}
