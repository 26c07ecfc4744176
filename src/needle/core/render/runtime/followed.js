// Tells how somebody goes about the page: popups that came up, how far they got with a form.
// No answer is among it. Whoever asks not to be tracked is not followed.
(() => {
  const { page, variant, root, walk, alone, ticket } = document.body.dataset;
  if (walk !== undefined || alone !== undefined || !page || !location.protocol.startsWith("http")
    || navigator.doNotTrack === "1" || navigator.globalPrivacyControl) return;
  let told = [];
  const send = () => {
    if (!told.length) return;
    fetch(`${root}_needle/events`, {
      method: "POST", keepalive: true, headers: { "Content-Type": "application/json" },
      body: JSON.stringify({ page, variant, ticket, told }),
    }).catch(() => {});
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
  addEventListener("pagehide", () => {
    leave();
    for (const { name } of open.values()) tell("stop", name);
    send();
  });
})();
