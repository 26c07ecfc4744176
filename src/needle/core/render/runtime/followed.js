// Tells how somebody goes about the page: popups that came up, how far they got with a form, where
// they click and how much they see. No answer is among it. Whoever asks not to be tracked is not
// followed.
(() => {
  const { page, variant, root, walk, alone, ticket, reach, links } = document.body.dataset;
  if (walk !== undefined || alone !== undefined || !page || !location.protocol.startsWith("http")
    || navigator.doNotTrack === "1" || navigator.globalPrivacyControl) return;
  let told = [];
  const post = (where, more) => fetch(`${root}_needle/${where}`, {
    method: "POST", keepalive: true, headers: { "Content-Type": "application/json" },
    body: JSON.stringify({ page, variant, ticket, ...more }),
  }).catch(() => {});
  const send = () => {
    if (told.length) post("events", { told });
    told = [];
  };
  const tell = (kind, what, amount = 0) => {
    if (told.push([kind, what, Math.round(amount)]) > 39) send();
  };
  const open = new Map();
  let field = null;
  const leave = () => {
    if (!field) return;
    tell("field", field.name, Math.min(performance.now() - field.since, 600000));
    field = null;
  };
  document.addEventListener("focusin", ({ target }) => {
    const form = target.closest("form[data-form]");
    const asked = target.closest("[data-asked]");
    if (!form || !asked) return;
    const { form: id } = form.dataset;
    const name = `${id}.${asked.dataset.asked}`;
    if (!open.has(form)) { tell("open", id); send(); }
    open.set(form, { ...(open.get(form) ?? { step: 0 }), name });
    if (field?.name !== name) { leave(); field = { name, since: performance.now() }; }
  });
  document.addEventListener("focusout", leave);
  addEventListener("needle:sent", () => open.clear());
  new MutationObserver((changes) => {
    const faults = new Set();
    for (const { target, attributeName } of changes) {
      if (attributeName === "open") {
        if (target.matches("dialog.popup[open]")) { tell("popup", target.id.slice(2)); send(); }
      } else if (attributeName === "inert") {
        const form = target.closest("form[data-form]");
        const known = open.get(form);
        if (known && form.needleSteps?.at > known.step) {
          known.step = form.needleSteps.at;
          tell("step", form.dataset.form, known.step + 1);
          send();
        }
      } else if (target.hasAttribute(attributeName)) {
        const asked = target.closest("[data-asked]");
        if (asked) faults.add(`${asked.closest("form").dataset.form}.${asked.dataset.asked}`);
      }
    }
    for (const name of faults) tell("fault", name);
  }).observe(document.body, {
    subtree: true, attributes: true, attributeFilter: ["open", "inert", "aria-invalid"] });
  const counting = JSON.parse(links ?? "[]").map(([to, goal]) => [new URL(to, location).href, goal]);
  document.addEventListener("click", ({ target, clientX, clientY }) => {
    const link = target.closest("a[href]:not([data-do])");
    for (const [to, goal] of counting) if (link?.href === to) post("goal", { goal });
    const part = target.closest("section[id^='s-'],dialog.popup[id^='p-']");
    if (!part || !(clientX || clientY)) return;
    const box = part.getBoundingClientRect();
    const at = (n, size) => Math.max(0, Math.min(499, Math.floor(n / size * 500)));
    tell("touch", part.id.slice(2),
      at(clientX - box.left, box.width) * 500 + at(clientY - box.top, box.height));
  }, true);
  let deepest = 0;
  let left = JSON.parse(reach ?? "[]");
  const reached = (does, amount) => {
    left = left.filter(([goal, how, needed]) => {
      if (how !== does || amount < needed) return true;
      post("goal", { goal });
      return false;
    });
  };
  const look = () => {
    const seen = (scrollY + innerHeight) / document.documentElement.scrollHeight * 100;
    deepest = Math.max(deepest, Math.min(100, seen + 0.5));
    reached("depth", deepest);
  };
  let seconds = 0;
  if (left.some(([, how]) => how === "time"))
    setInterval(() => { if (!document.hidden) reached("time", ++seconds); }, 1000);
  addEventListener("scroll", look, { passive: true });
  addEventListener("load", () => setTimeout(look, 1000));
  for (const [id, number] of Object.entries(window.needleAdverts ?? {})) tell("words", id, number);
  addEventListener("load", send);
  addEventListener("pagehide", () => {
    leave();
    look();
    tell("depth", "page", Math.floor(deepest));
    for (const { name } of open.values()) tell("stop", name);
    send();
  });
})();
