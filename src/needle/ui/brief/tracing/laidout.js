// What stands where on a laid-out page, and in which look. Runs beside the page, in a world of its own;
// what it returns is `LaidOut` in core/seeing/laidout.py.
((width, shown) => {
  const MOST = 8000, DEEPEST = 80, WORDS = 1200;
  const nodes = [], looks = [], known = new Map();
  let leftOut = 0;
  const round = (v) => Math.round(v * 100) / 100;
  const px = (v) => { const n = parseFloat(v); return Number.isFinite(n) ? round(Math.max(-1e5, Math.min(1e6, n))) : 0; };

  // Every notation of a colour, as the engine draws it.
  const pen = document.createElement("canvas").getContext("2d", { willReadFrequently: true });
  const colours = new Map();
  const colour = (value) => {
    if (!colours.has(value)) {
      const legacy = /^rgba?\((\d+), (\d+), (\d+)(?:, ([\d.]+))?\)$/.exec(value);
      let parts;
      if (legacy) parts = [+legacy[1], +legacy[2], +legacy[3], legacy[4] === undefined ? 1 : +legacy[4]];
      else {
        pen.clearRect(0, 0, 1, 1);
        pen.fillStyle = "#000"; pen.fillStyle = value; pen.fillRect(0, 0, 1, 1);
        const [r, g, b, a] = pen.getImageData(0, 0, 1, 1).data;
        parts = [r, g, b, a / 255];
      }
      colours.set(value, ["#" + parts.slice(0, 3).map((p) => p.toString(16).padStart(2, "0")).join(""), round(parts[3])]);
    }
    return colours.get(value);
  };

  const sides = (style, stem, end) => ["Top", "Right", "Bottom", "Left"].map((s) => px(style[stem + s + end]));
  function lookOf(style) {
    const [ink, solid] = colour(style.color), [fill, filled] = colour(style.backgroundColor);
    const image = style.backgroundImage;
    const look = {
      colour: ink, solid, fill, filled,
      picture: image === "none" ? "" : /url\(/.test(image) ? "picture" : "gradient",
      face: style.fontFamily.replace(/["']/g, "").slice(0, 200), size: px(style.fontSize),
      weight: Math.max(1, Math.min(1000, Math.round(parseFloat(style.fontWeight) || 400))),
      slanted: style.fontStyle !== "normal", line: style.lineHeight === "normal" ? 0 : px(style.lineHeight),
      spacing: style.letterSpacing === "normal" ? 0 : px(style.letterSpacing),
      align: style.textAlign.slice(0, 40), capitals: style.textTransform.slice(0, 40),
      pad: sides(style, "padding", ""), margin: sides(style, "margin", ""), edge: sides(style, "border", "Width"),
      edge_colour: colour(style.borderTopColor)[0], radius: px(style.borderTopLeftRadius),
      shadow: style.boxShadow !== "none", opacity: Math.max(0, Math.min(1, parseFloat(style.opacity) || 0)),
      display: style.display.slice(0, 40) };
    const key = JSON.stringify(look);
    if (!known.has(key)) { known.set(key, looks.length); looks.push(look); }
    return known.get(key);
  }

  const box = (r) => [r.left + scrollX, r.top + scrollY, r.right + scrollX, r.bottom + scrollY].map(round);
  const inline = (node) => node.nodeType === 3 || (node.nodeType === 1 && getComputedStyle(node).display === "inline"
    && ![...node.children].some((child) => !inline(child)));
  const shows = (e) => /^(img|svg|video|canvas|picture|object|iframe)$/i.test(e.tagName);

  // The lines of an element's own words, with what stands in the same lines.
  function lines(e) {
    const own = [...e.childNodes].filter((n) => inline(n) && !(n.nodeType === 1 && shows(n)));
    if (!own.some((n) => n.textContent.trim())) return null;
    const range = document.createRange(), found = [];
    for (const node of own) {
      range.selectNodeContents(node);
      for (const r of range.getClientRects()) if (r.width > 0.5 && r.height > 2) found.push(r);
    }
    if (!found.length) return null;
    const tops = [];
    for (const r of [...found].sort((a, b) => a.bottom - b.bottom)) {
      const last = tops[tops.length - 1];
      if (!last || r.bottom - last.bottom > 0.5 * last.height) tops.push(r);
    }
    const whole = found.reduce((a, r) => ({ left: Math.min(a.left, r.left), top: Math.min(a.top, r.top),
      right: Math.max(a.right, r.right), bottom: Math.max(a.bottom, r.bottom) }), found[0]);
    return { words: own.map((n) => n.textContent).join("").replace(/\s+/g, " ").trim().slice(0, WORDS), ink: box(whole),
             lines: tops.length, first: round(tops[0].top + scrollY), last: round(tops[tops.length - 1].top + scrollY) };
  }

  function walk(e, up, depth, inWords) {
    const style = getComputedStyle(e);
    if (style.display === "none" || /^(script|style|noscript|template|head)$/i.test(e.tagName)) return;
    const r = e.getBoundingClientRect();
    const seen = r.width >= 1 && r.height >= 1 && style.visibility === "visible" && style.opacity !== "0"
      && r.right + scrollX > 0 && r.left + scrollX < width && r.top + scrollY < shown && r.bottom + scrollY > 0;
    let place = up;
    if (seen && nodes.length >= MOST) leftOut += 1;
    else if (seen) {
      const level = /^h[1-6]$/i.test(e.tagName) ? +e.tagName[1] : 0;
      const node = { tag: e.tagName.toLowerCase().slice(0, 60), up, rect: box(r), look: lookOf(style), shows: shows(e), level };
      const told = inWords || node.shows ? null : lines(e);
      if (told) Object.assign(node, told);
      else if (!inWords && /^(input|button|textarea)$/i.test(e.tagName)) {
        const words = (e.value || e.placeholder || "").trim().slice(0, WORDS);
        const pad = ["Top", "Right", "Bottom", "Left"].map((s) => px(style["padding" + s]));
        if (words && /^(button|submit|reset)$/i.test(e.type)) Object.assign(node, { words, lines: 1,
          ink: box({ left: r.left + pad[3], top: r.top + pad[0], right: r.right - pad[1], bottom: r.bottom - pad[2] }),
          first: round(r.top + pad[0] + scrollY), last: round(r.top + pad[0] + scrollY) });
      }
      place = nodes.length;
      nodes.push(node);
    }
    if (shows(e) || depth >= DEEPEST) return;
    for (const child of e.children) walk(child, place, depth + 1, place !== up && !!nodes[place].words && inline(child));
  }
  walk(document.body, -1, 0, false);
  return { width, height: round(document.documentElement.scrollHeight), shown, nodes, looks, left_out: leftOut };
})
