// Shows a form or popup of a Needle site on a page that was made elsewhere. Set down as
//   <script src="https://…/_needle/elsewhere.js" data-part="…" async></script>
// A form stands where the script does. A popup opens as the script's data say: data-click (what
// opens it when clicked), data-after (seconds), data-scroll (percent), data-leave, data-again (days).
(() => {
  const script = document.currentScript;
  if (!script) return;
  const { part, kind = "form", click, after, scroll, leave, again = "1", size = "460",
    name = "" } = script.dataset;
  const home = new URL(script.src).origin;
  const firm = (element, rules) => {
    for (const [rule, value] of Object.entries(rules)) {
      element.style.setProperty(rule, value, "important");
    }
  };

  // A custom element with a shadow: no rule of the page around reaches into it, and its own
  // box is set by rules that win over every sheet.
  const holder = () => {
    const outer = document.createElement("needle-part");
    firm(outer, { all: "initial", display: "block" });
    return [outer, outer.attachShadow({ mode: "open" })];
  };
  const framed = () => {
    const frame = document.createElement("iframe");
    const query = new URLSearchParams(location.search);
    query.set("_at", location.href.split("#")[0].slice(0, 400));
    frame.src = `${home}/_needle/on/${encodeURIComponent(part)}?${query}`;
    frame.title = name;
    firm(frame, { all: "initial", display: "block", width: "100%", height: "120px", border: "0" });
    return frame;
  };
  // The other side's words are taken only from its own frame, and only what is expected of them.
  const listen = (frame, closed) => {
    const hear = (event) => {
      if (event.source !== frame.contentWindow || event.origin !== home) return;
      const { height, closed: shut, sent, go } = event.data?.needle ?? {};
      if (Number.isFinite(height)) {
        firm(frame, { height: `${Math.min(Math.max(height, 0), 20000)}px` });
      }
      if (sent) {
        dispatchEvent(new CustomEvent("needle:sent", { detail: { part } }));
        const there = typeof go === "string" && go ? new URL(go, home) : null;
        if (there && /^https?:$/.test(there.protocol)) location.assign(there.href);
      }
      if (shut) closed?.();
    };
    addEventListener("message", hear);
    return () => removeEventListener("message", hear);
  };

  const showForm = () => {
    const [outer, shadow] = holder();
    const frame = framed();
    listen(frame);
    shadow.append(frame);
    // Narrower than this nobody can fill it in, however narrow the page around has made its place.
    firm(outer, { "min-width": "260px" });
    script.after(outer);
  };

  // In the browser's top layer, above whatever the page around moves, turns or hides.
  let open = false;
  const showPopup = () => {
    if (open) return;
    open = true;
    const [outer, shadow] = holder();
    const card = document.createElement("dialog");
    card.setAttribute("aria-label", name);
    const sheet = document.createElement("style");
    sheet.textContent = "dialog::backdrop{background:rgba(0,0,0,.6)}";
    const frame = framed();
    card.append(frame);
    shadow.append(sheet, card);
    const deaf = listen(frame, () => card.close());
    card.addEventListener("close", () => {
      open = false;
      deaf();
      outer.remove();
    });
    card.addEventListener("click", (event) => { if (event.target === card) card.close(); });
    document.documentElement.append(outer);
    card.showModal();
    // The page around may set dialogs otherwise, but not by rules on this very one.
    firm(card, { display: "block", position: "fixed", inset: "0", margin: "auto", padding: "0",
      border: "0", background: "transparent", overflow: "auto", visibility: "visible",
      opacity: "1", width: `min(${Number(size) || 460}px, 100vw - 24px)`, height: "fit-content",
      "max-height": "100vh" });
    frame.addEventListener("load", () => frame.focus(), { once: true });
  };
  const byItself = () => {
    const key = `needle-part-${part}`;
    try {
      const last = Number(localStorage.getItem(key)) || 0;
      if (Number(again) && Date.now() - last < Number(again) * 86400000) return;
      localStorage.setItem(key, String(Date.now()));
    } catch { /* Without storage it opens at every visit. */ }
    showPopup();
  };
  const once = (run) => { let done = false; return () => { if (!done) { done = true; run(); } }; };

  const waitForPopup = () => {
    const self = once(byItself);
    document.addEventListener("click", (event) => {
      let hit = null;
      try { hit = click && event.target.closest?.(click); } catch { /* No selector: it picks nothing. */ }
      if (hit) { event.preventDefault(); showPopup(); }
    });
    if (Number(after)) setTimeout(self, Number(after) * 1000);
    if (Number(scroll)) {
      const look = () => {
        const page = document.scrollingElement ?? document.documentElement;
        const room = page.scrollHeight - innerHeight;
        if (room <= 0 || page.scrollTop / room * 100 >= Number(scroll)) self();
      };
      addEventListener("scroll", look, { passive: true });
    }
    if (leave !== undefined) {
      document.addEventListener("mouseout", (event) => {
        if (!event.relatedTarget && event.clientY <= 0) self();
      });
    }
  };
  if (kind === "popup") waitForPopup();
  else showForm();
})();
