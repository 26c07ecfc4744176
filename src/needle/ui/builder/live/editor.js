// The editor's side of a live view. Runs in an isolated world of the shell; the page in the
// iframe is sandboxed, so none of its own scripts ever run.
"use strict";

const needle = (() => {
  const frame = document.getElementById("page");
  const over = document.getElementById("over");
  const grip = document.getElementById("grip");
  const mark = document.getElementById("mark");
  let D = null;            // the page's document
  let sheet = null;        // the nodes' own rules
  let own = null;          // the marketer's rules
  let groups = new Map();  // node id -> the rule group that holds its rules
  let scale = 1;
  let chosen = "";
  let also = [];           // chosen with it
  let revealed = false;    // something was chosen while the page was loading
  let kept = 0;            // where the page was scrolled to before it is loaded again
  let late = [];           // patches that came while the page was loading
  let alike = [];          // what the next change of a look would reach
  let over_id = "";
  let editing = null;      // the element that has the caret
  let composing = false;
  let popup = "";
  let following = 0;
  let bridge = null;
  let drag = null;
  let pulled = null;       // the border between columns that is being dragged

  const tell = (message) => bridge && bridge.msg(JSON.stringify(message));
  const byId = (id) => D && D.querySelector(`[data-n="${CSS.escape(id)}"]`);
  const nodeOf = (target) => target && target.closest ? target.closest("[data-n]") : null;

  // Rules: each node has a group of its own, so a change never moves another's rules.
  function setRules(id, css) {
    let group = groups.get(id);
    if (!group) {
      if (!css) return;
      group = sheet.cssRules[sheet.insertRule("@media all {}", sheet.cssRules.length)];
      groups.set(id, group);
    }
    while (group.cssRules.length) group.deleteRule(0);
    const spare = new frame.contentWindow.CSSStyleSheet();
    spare.replaceSync(css);
    for (const rule of spare.cssRules) group.insertRule(rule.cssText, group.cssRules.length);
  }

  function loaded() {
    D = frame.contentDocument;
    sheet = new frame.contentWindow.CSSStyleSheet();
    groups = new Map();
    const rules = JSON.parse(D.getElementById("needle-rules").textContent);
    for (const [id, css] of Object.entries(rules)) setRules(id, css);
    own = new frame.contentWindow.CSSStyleSheet();
    own.replaceSync(JSON.parse(D.getElementById("needle-own").textContent));
    D.adoptedStyleSheets = [sheet, own];
    D.documentElement.style.setProperty("--vh", "8px");
    const marks = D.createElement("style");
    // Nothing is selected as a browser selects but words that are being typed.
    marks.textContent = "body{user-select:none}[contenteditable]{user-select:text;outline:0;"
      + "white-space:pre-wrap;cursor:text}"
      + "a,button{cursor:default}html{scroll-behavior:auto!important}"
      + ".column:empty{min-height:48px;outline:1px dashed #8889}"
      + "[data-words]:empty::before{content:'\\200b'}";
    D.head.append(marks);
    listen();
    if (popup) showPopup(popup);
    place();
    tell({ t: "ready" });
  }

  // The overlay: drawn in the shell, unscaled, above the page.
  function outline(element, name) {
    const box = element.getBoundingClientRect();
    const line = document.createElement("div");
    line.className = `stitch ${name}`;
    const air = name.includes("section") ? 0 : 3;
    line.style.left = `${box.left * scale - air}px`;
    line.style.top = `${box.top * scale - air}px`;
    line.style.width = `${box.width * scale + 2 * air}px`;
    line.style.height = `${box.height * scale + 2 * air}px`;
    over.append(line);
    return line;
  }

  function place() {
    for (const line of over.querySelectorAll(".stitch")) if (line !== pulled) line.remove();
    grip.style.display = "none";
    if (!D) return;
    const hovered = over_id !== chosen && byId(over_id);
    if (hovered && !drag) outline(hovered, "hover");
    const element = byId(chosen);
    if (!element || !element.getClientRects().length) return;
    for (const id of alike) {
      const found = id !== chosen && byId(id);
      if (found && found.getClientRects().length) outline(found, "alike");
    }
    for (const id of also) {
      const found = byId(id);
      if (found && found.getClientRects().length) outline(found, "item");
    }
    outline(element, element.matches(".section") ? "section" : "item");
    const linked = element.closest("[data-linked]");
    if (linked) outline(linked, "linked");
    if (editing) return;
    borders(element);
    const box = element.getBoundingClientRect();
    grip.style.display = "block";
    // Beside the item, as wide as there is room, so that it covers no letters.
    const room = Math.min(23, Math.max(9, Math.floor(box.left * scale) - 2));
    grip.style.width = `${room}px`;
    grip.style.left = `${Math.max(1, box.left * scale - room - 2)}px`;
    grip.style.top = `${Math.max(2, box.top * scale - 3)}px`;
  }

  // Between columns that stand side by side: borders that can be dragged.
  function borders(element) {
    const row = element.closest(".row");
    if (!row || drag || pulled) return;
    const columns = [...row.children].filter((c) => c.dataset.n && c.getClientRects().length);
    columns.slice(1).forEach((column, number) => {
      const left = columns[number].getBoundingClientRect();
      const right = column.getBoundingClientRect();
      if (right.left < left.right - 1 || right.top > left.bottom) return;
      const line = document.createElement("div");
      line.className = "stitch border";
      line.title = "Drag to share the width";
      line.style.left = `${(left.right + right.left) / 2 * scale - 4}px`;
      line.style.top = `${Math.min(left.top, right.top) * scale}px`;
      line.style.height = `${Math.max(left.height, right.height) * scale}px`;
      line.addEventListener("pointerdown", (event) => pull(event, row, columns, number));
      over.append(line);
    });
  }

  function pull(event, row, columns, number) {
    event.preventDefault();
    pulled = event.currentTarget;
    pulled.setPointerCapture(event.pointerId);
    const from = event.clientX / scale;
    const began = parseFloat(pulled.style.left);
    const widths = columns.map((column) => column.getBoundingClientRect().width);
    const move = (at) => {
      const by = Math.max(20 - widths[number], Math.min(widths[number + 1] - 20, at.clientX / scale - from));
      pulled.style.left = `${began + by * scale}px`;
      const shares = widths.map((w, n) => (n === number ? w + by : n === number + 1 ? w - by : w));
      tell({ t: "shares", id: row.dataset.n, shares });
    };
    const line = pulled;
    line.addEventListener("pointermove", move);
    line.addEventListener("lostpointercapture", () => {
      pulled = null;
      line.remove();
      tell({ t: "shared" });
      place();
    }, { once: true });
  }

  // Words: what the person typed, as lines of runs.
  const BLOCKS = new Set(["P", "LI", "DIV", "H1", "H2", "H3", "H4", "H5", "H6", "UL", "OL"]);
  function linesOf(host) {
    const lines = [];
    let line = null;
    const open = () => { line = []; lines.push(line); };
    const walk = (node, marks) => {
      if (node.nodeType === Node.TEXT_NODE) {
        if (!node.data) return;
        if (!line) open();
        line.push({ words: node.data, ...marks });
        return;
      }
      if (node.nodeType !== Node.ELEMENT_NODE) return;
      if (node.tagName === "BR") {
        const filler = !node.nextSibling && node.parentNode !== host;
        const last = node === host.lastChild;
        if (!line) open();
        if (!filler && !last) line.push({ words: "\n", ...marks });
        return;
      }
      const inner = { ...marks };
      if (node.tagName === "STRONG" || node.tagName === "B") inner.strong = true;
      if (node.tagName === "EM" || node.tagName === "I") inner.emphasis = true;
      if (node.tagName === "A") inner.link = node.dataset.link || node.getAttribute("href") || "";
      if (node.dataset.colour) inner.colour = node.dataset.colour;
      if (node.dataset.advert) inner.advert = node.dataset.advert;
      if (node.dataset.column) {
        inner.column = node.dataset.column;
        inner.shape = node.dataset.shape ?? "";
      }
      if (BLOCKS.has(node.tagName)) {
        open();
        for (const child of node.childNodes) walk(child, inner);
        line = null;
      } else for (const child of node.childNodes) walk(child, inner);
    };
    for (const child of host.childNodes) walk(child, {});
    return lines.length ? lines : [[]];
  }

  // Where words are typed: the part under the pointer, or the only one that a node has.
  function typedIn(node, target) {
    const under = target && target.closest("[data-words]");
    if (under && nodeOf(under) === node) return under;
    const parts = [node, ...node.querySelectorAll("[data-words]")].filter(
      (part) => part.dataset.words && nodeOf(part) === node);
    return parts.length === 1 ? parts[0] : null;
  }

  function sendWords() {
    if (editing && !composing) {
      tell({ t: "words", id: nodeOf(editing).dataset.n, text: editing.dataset.text, lines: linesOf(editing) });
    }
  }

  // The chosen stretch, as characters from the host's beginning; null if it is elsewhere.
  function chosenIn(host) {
    const range = D.getSelection().rangeCount ? D.getSelection().getRangeAt(0) : null;
    if (!range || !host.contains(range.startContainer) || !host.contains(range.endContainer)) return null;
    const before = D.createRange();
    before.selectNodeContents(host);
    before.setEnd(range.startContainer, range.startOffset);
    const start = before.toString().length;
    return [start, start + range.toString().length];
  }

  function choose(host, [start, stop]) {
    const range = D.createRange();
    range.selectNodeContents(host);
    range.collapse(false);
    const walker = D.createTreeWalker(host, NodeFilter.SHOW_TEXT);
    let at = 0;
    let begun = false;
    while (walker.nextNode()) {
      const node = walker.currentNode;
      const end = at + node.data.length;
      if (!begun && start <= end) {
        range.setStart(node, start - at);
        begun = true;
      }
      if (begun && stop <= end) {
        range.setEnd(node, stop - at);
        break;
      }
      at = end;
    }
    D.getSelection().removeAllRanges();
    D.getSelection().addRange(range);
  }

  function startEditing(element) {
    if (editing === element) return;
    stopEditing();
    editing = element;
    element.setAttribute("contenteditable", "true");
    element.setAttribute("spellcheck", "false");
    D.execCommand("defaultParagraphSeparator", false, "p");
    place();
  }

  function stopEditing() {
    if (!editing) return;
    const id = nodeOf(editing).dataset.n;
    editing.removeAttribute("contenteditable");
    editing.removeAttribute("spellcheck");
    editing.blur();
    editing = null;
    tell({ t: "done", id });
    place();
  }

  function listen() {
    D.addEventListener("pointerdown", (event) => {
      const element = nodeOf(event.target);
      if (event.target.matches("dialog")) {
        const box = event.target.getBoundingClientRect();
        if (event.clientX < box.left || event.clientX > box.right
            || event.clientY < box.top || event.clientY > box.bottom) {
          tell({ t: "pick", id: "" });
          return;
        }
      }
      if (event.target.closest("[data-close]") && event.target.closest("dialog")
          && event.target.closest(".popup-close")) {
        event.preventDefault();
        tell({ t: "pick", id: "" });
        return;
      }
      const part = element && typedIn(element, event.target);
      if (editing && part !== editing) stopEditing();
      if (!element) return;
      const more = event.ctrlKey || event.shiftKey || event.metaKey;
      if (more) event.preventDefault();
      else if (part && event.button === 0) startEditing(part);
      if (event.button === 0) tell({ t: "pick", id: element.dataset.n, more });
    }, true);
    D.addEventListener("click", (event) => event.preventDefault(), true);
    D.addEventListener("submit", (event) => event.preventDefault(), true);
    D.addEventListener("dragstart", (event) => event.preventDefault(), true);
    D.addEventListener("cancel", (event) => {
      event.preventDefault();
      tell({ t: "pick", id: "" });
    }, true);
    D.addEventListener("contextmenu", (event) => {
      event.preventDefault();
      const element = nodeOf(event.target);
      if (element) tell({ t: "menu", id: element.dataset.n });
    }, true);
    D.addEventListener("pointermove", (event) => {
      const element = nodeOf(event.target);
      const id = element ? element.dataset.n : "";
      if (id !== over_id) { over_id = id; place(); }
    }, true);
    D.addEventListener("pointerleave", () => { over_id = ""; place(); });
    D.addEventListener("input", () => { sendWords(); place(); }, true);
    D.addEventListener("compositionstart", () => { composing = true; }, true);
    D.addEventListener("compositionend", () => { composing = false; sendWords(); }, true);
    D.addEventListener("beforeinput", beforeInput, true);
    D.addEventListener("paste", paste, true);
    D.addEventListener("drop", (event) => event.preventDefault(), true);
    D.addEventListener("focusout", (event) => {
      if (event.target === editing && !event.relatedTarget && !D.hasFocus()) sendWords();
    }, true);
    D.addEventListener("keydown", (event) => {
      if (event.key === "Escape" && editing) {
        event.preventDefault();
        stopEditing();
      } else if (!editing && event.key === "Enter" && chosen) {
        event.preventDefault();
        edit(chosen);
      }
    }, true);
    D.addEventListener("scroll", () => {
      place();
      if (following > 0) { following -= 1; return; }
      const where = position();
      if (where) tell({ t: "scroll", ...where });
    }, true);
    new frame.contentWindow.ResizeObserver(place).observe(D.body);
  }

  function beforeInput(event) {
    if (event.inputType.startsWith("history") || event.inputType.startsWith("format")) {
      event.preventDefault();
    }
    if (!editing || editing.dataset.words !== "one") return;
    if (event.inputType === "insertParagraph") {
      event.preventDefault();
      D.execCommand("insertLineBreak");
    }
  }

  // Pasting takes the words, not the foreign look.
  function paste(event) {
    event.preventDefault();
    if (!editing) return;
    const words = event.clipboardData.getData("text/plain").replace(/\r\n?/g, "\n").trim();
    const parts = editing.dataset.words === "lines" ? words.split(/\n+/) : [words.replace(/\s*\n\s*/g, " ")];
    parts.forEach((part, number) => {
      if (number) D.execCommand("insertParagraph");
      D.execCommand("insertText", false, part);
    });
  }

  // Where the view is scrolled to, as a section and how far into it.
  function position() {
    const tops = [...D.querySelectorAll('[data-holder="children"] > [data-n]')];
    for (const top of tops) {
      const box = top.getBoundingClientRect();
      if (box.bottom > 1) {
        return { id: top.dataset.n, part: box.height ? Math.max(0, -box.top) / box.height : 0 };
      }
    }
    return null;
  }

  function follow(id, part) {
    const top = byId(id);
    if (!top) return;
    const box = top.getBoundingClientRect();
    const goal = D.scrollingElement.scrollTop + box.top + part * box.height;
    if (Math.abs(goal - D.scrollingElement.scrollTop) < 1) return;
    const before = D.scrollingElement.scrollTop;
    D.scrollingElement.scrollTop = goal;
    if (D.scrollingElement.scrollTop !== before) following += 1;
  }

  // Patches
  function element(html) {
    const template = D.createElement("template");
    template.innerHTML = html;
    return template.content.firstElementChild;
  }

  function replace(id, html) {
    const old = byId(id);
    if (!old) return;
    const fresh = element(html);
    if (editing && nodeOf(editing) === old && keepTyping(old, fresh)) return;
    if (editing && old.contains(editing)) editing = null;
    old.replaceWith(fresh);
  }

  // Changes everything in `old` but the element with the caret, whose words alone change.
  function keepTyping(old, fresh) {
    const same = (e) => e.dataset.text === editing.dataset.text;
    const typed = [fresh, ...fresh.querySelectorAll("[data-text]")].find(same);
    if (!typed || typed.tagName !== editing.tagName) return false;
    const stretch = chosenIn(editing);
    editing.innerHTML = typed.innerHTML;
    for (const name of fresh.getAttributeNames()) old.setAttribute(name, fresh.getAttribute(name));
    for (const part of old.querySelectorAll("[data-text]")) {
      const other = part !== editing && fresh.querySelector(`[data-text="${part.dataset.text}"]`);
      if (other) part.innerHTML = other.innerHTML;
    }
    if (stretch) choose(editing, stretch);
    return true;
  }

  function order(patch) {
    const holder = byId(patch.id) || D.querySelector(`[data-holder="${CSS.escape(patch.id)}"]`);
    if (!holder) return;
    const ids = patch.ids || [];  // An empty list is left out on the way here.
    const wanted = new Set(ids);
    for (const child of [...holder.children]) {
      if (child.dataset.n && !wanted.has(child.dataset.n)) child.remove();
    }
    for (const [id, css] of Object.entries(patch.rules || {})) setRules(id, css);
    let last = null;
    for (const child of holder.children) if (!child.dataset.n) last = child;
    for (const id of ids) {
      const child = [...holder.children].find((c) => c.dataset.n === id)
        || (patch.fresh && patch.fresh[id] && element(patch.fresh[id])) || byId(id);
      if (!child) continue;
      const next = last ? last.nextElementSibling : holder.firstElementChild;
      if (next !== child) holder.insertBefore(child, next);
      last = child;
    }
  }

  function patch(list) {
    if (!D) {
      late.push(...list);
      return;
    }
    for (const one of list) {
      if (one.op === "node") replace(one.id, one.html);
      else if (one.op === "css") setRules(one.id, one.css || "");
      else if (one.op === "order") order(one);
      else if (one.op === "base") D.getElementById("needle-base").textContent = one.css || "";
      else if (one.op === "own") own.replaceSync(one.css || "");
    }
    if (popup) showPopup(popup);
    place();
  }

  function showPopup(id) {
    popup = id;
    if (!D) return;
    for (const dialog of D.querySelectorAll("dialog[open]")) {
      if (dialog.dataset.n !== id) dialog.close();
    }
    const dialog = id && byId(id);
    if (dialog && !dialog.open) {
      const had = editing;
      dialog.showModal();
      if (!had && D.activeElement) D.activeElement.blur();
    }
    place();
  }

  function select(id, reveal, others) {
    chosen = id;
    if (!D) {
      revealed = reveal;
      return;
    }
    also = others || [];
    alike = [];
    if (editing && nodeOf(editing).dataset.n !== id) stopEditing();
    const found = byId(id);
    if (found && reveal) {
      const box = found.getBoundingClientRect();
      const high = frame.contentWindow.innerHeight;
      if (box.bottom < 40 || box.top > high - 40) {
        D.scrollingElement.scrollTop += box.top - Math.min(high / 3, Math.max(40, (high - box.height) / 2));
      }
    }
    place();
  }

  function edit(id) {
    const found = byId(id);
    const part = found && (typedIn(found) || found.querySelector("[data-words]"));
    if (!part) return;
    startEditing(part);
    editing.focus();
    D.getSelection().selectAllChildren(editing);
  }

  function size(width, height, factor) {
    scale = factor;
    frame.style.width = `${width}px`;
    frame.style.height = `${height}px`;
    frame.style.transform = `scale(${factor})`;
    place();
  }

  function load(fromTop) {
    if (fromTop) kept = 0;
    else if (D && D.scrollingElement) kept = D.scrollingElement.scrollTop;
    editing = null;
    D = null;
    late = [];
    frame.addEventListener("load", () => {
      loaded();
      patch(late.splice(0));
      D.scrollingElement.scrollTop = kept;
      if (revealed) select(chosen, true);
      revealed = false;
    }, { once: true });
    frame.src = `/page?${Date.now()}`;
  }

  // Marks: bold and the like on the words that are selected.
  function mark_words(kind, value) {
    const stretch = editing && chosenIn(editing);
    if (stretch && stretch[0] < stretch[1]) {
      tell({ t: "mark", id: nodeOf(editing).dataset.n, text: editing.dataset.text, mark: kind, value, start: stretch[0], stop: stretch[1] });
    }
  }

  // Moving things: where would it go if it were dropped here?
  const RANKS = [".section, .popup", ".row", ".column"];
  function rankOf(node) {
    const at = RANKS.findIndex((selector) => node.matches(selector));
    return at < 0 ? 0 : 3 - at;
  }

  function hit(x, y, rank, moved) {
    if (!D) return null;
    const below = D.elementsFromPoint(x / scale, y / scale)
      .map((e) => nodeOf(e)).find((n) => n && n.dataset.n !== moved && !(byId(moved) && byId(moved).contains(n)));
    if (!below) return null;
    let target = below;
    if (rank === 3) target = below.closest(".section") || below;
    if (rank === 2) target = below.closest(".row") || below;
    const box = target.getBoundingClientRect();
    const px = (x / scale - box.left) / box.width;
    const py = (y / scale - box.top) / box.height;
    // A column's own edge is narrow, so that a gap between two items stays a gap.
    const edge = rankOf(target) === 0 ? 0.14 : 0.03;
    if (rank <= 1 && rankOf(target) <= 1 && px < edge) return { target, side: "left" };
    if (rank <= 1 && rankOf(target) <= 1 && px > 1 - edge) return { target, side: "right" };
    if (rank === 1 && rankOf(target) === 0) return { target, side: px < 0.5 ? "left" : "right" };
    if (rankOf(target) > rank) {
      const near = nearest(target, y / scale, moved);
      if (near) return near;
      return { target, side: "inside" };
    }
    return { target, side: py < 0.5 ? "before" : "after" };
  }

  // In the empty part of a holder: the item just above or below the pointer.
  function nearest(holder, y, moved) {
    const items = [...holder.querySelectorAll("[data-n]")].filter(
      (node) => rankOf(node) === 0 && node.dataset.n !== moved && node.getClientRects().length);
    let best = null;
    for (const node of items) {
      const box = node.getBoundingClientRect();
      const away = y < box.top ? box.top - y : y > box.bottom ? y - box.bottom : 0;
      if (!best || away < best.away) best = { away, target: node, side: y < (box.top + box.bottom) / 2 ? "before" : "after" };
    }
    return best;
  }

  function showMark(found) {
    mark.style.display = found ? "block" : "none";
    if (!found) return;
    const box = found.target.getBoundingClientRect();
    const [l, t, w, h] = [box.left, box.top, box.width, box.height].map((v) => v * scale);
    mark.className = found.side === "inside" ? "inside" : "";
    const set = (left, top, width, height) => Object.assign(mark.style, {
      left: `${left}px`, top: `${top}px`, width: `${width}px`, height: `${height}px` });
    if (found.side === "before") set(l, t - 4, w, 4);
    else if (found.side === "after") set(l, t + h, w, 4);
    else if (found.side === "left") set(l - 4, t, 4, h);
    else if (found.side === "right") set(l + w, t, 4, h);
    else set(l, t, w, h);
  }

  function hover(x, y, rank, moved) {
    const found = hit(x, y, rank, moved);
    showMark(found);
    return found ? { target: found.target.dataset.n, side: found.side } : null;
  }

  grip.addEventListener("pointerdown", (event) => {
    const node = byId(chosen);
    if (!node) return;
    event.preventDefault();
    grip.setPointerCapture(event.pointerId);
    drag = { id: chosen, rank: rankOf(node), found: null };
  });
  grip.addEventListener("pointermove", (event) => {
    if (!drag) return;
    drag.found = hover(event.clientX, event.clientY, drag.rank, drag.id);
    grip.style.left = `${event.clientX + 8}px`;
    grip.style.top = `${event.clientY + 8}px`;
  });
  grip.addEventListener("pointerup", () => {
    if (drag && drag.found) tell({ t: "move", id: drag.id, ...drag.found });
    drag = null;
    showMark(null);
    place();
  });

  new QWebChannel(qt.webChannelTransport, (channel) => {
    bridge = channel.objects.bridge;
    load();
  });

  return {
    patch, select, size, edit, follow, hover, load, stopEditing,
    group: (ids) => { alike = ids; place(); },
    popup: showPopup, mark: mark_words, clearMark: () => showMark(null),
    painted: (n) => requestAnimationFrame(() => requestAnimationFrame(() => tell({ t: "painted", n }))),
    computed: (id, names) => {
      const found = byId(id);
      if (!found) return null;
      const style = frame.contentWindow.getComputedStyle(found);
      return Object.fromEntries(names.map((name) => [name, style.getPropertyValue(name)]));
    },
    ready: () => !!(D && D.body && sheet),
    // What sticks out of the page at this width, and by how much (CSS pixels).
    overflow: () => {
      if (!D) return null;
      const wide = frame.contentWindow.innerWidth;
      let worst = null;
      for (const node of D.querySelectorAll('[data-holder="children"] [data-n]')) {
        const box = node.getBoundingClientRect();
        const by = Math.round(Math.max(box.right - wide, -box.left));
        if (box.width && by > 1 && rankOf(node) === 0 && (!worst || by > worst.by)) worst = { id: node.dataset.n, by };
      }
      return worst;
    },
    box: (id) => {
      const found = byId(id);
      if (!found) return null;
      const b = found.getBoundingClientRect();
      return [b.left * scale, b.top * scale, b.width * scale, b.height * scale];
    },
  };
})();
