// Sends a form in place and never twice; keeps the answers over a reload;
// says what is wrong beside the field.
(() => {
  const opened = performance.now();
  const felt = { keys: 0, points: 0, made: 0 };
  addEventListener("keydown", (event) => { event.isTrusted ? felt.keys++ : felt.made++; }, true);
  addEventListener("pointerdown", (event) => { event.isTrusted ? felt.points++ : felt.made++; }, true);
  addEventListener("input", (event) => { if (!event.isTrusted) felt.made++; }, true);

  // What is said here in the language of the site comes with the form.
  const spoken = (form) => JSON.parse(form.dataset.words);
  const say = (form, words) => {
    const place = form.querySelector(".form-word");
    place.textContent = words;
    place.hidden = !words;
  };
  const controls = (part) => [...part.querySelectorAll("input,select,textarea")].filter(
    (one) => one.name && one.type !== "hidden" && !one.closest(".form-trap"));
  const answersOf = (form, name) => [...form.elements].filter((one) => one.name === name)
    .filter((one) => !["radio", "checkbox"].includes(one.type) || one.checked)
    .map((one) => one.value).filter(Boolean);

  // What is wrong with one field, in words; nothing if it can be taken.
  const wrong = (form, one) => {
    const asked = one.closest("[data-asked]");
    const own = one.dataset.message;
    if (one.dataset.required !== undefined && !answersOf(form, one.name).length) {
      return own || spoken(form).needed;
    }
    if (one.validity.valid) return "";
    if (own) return own;
    if (one.validity.valueMissing) return spoken(form).needed;
    if (one.type === "email") return spoken(form).email;
    return asked ? one.validationMessage : "";
  };
  const mark = (form, name, words) => {
    const asked = form.querySelector(`[data-asked="${CSS.escape(name)}"]`);
    const place = asked?.querySelector(".form-fault");
    if (!place) return null;
    place.textContent = words;
    place.hidden = !words;
    for (const one of controls(asked)) {
      if (words) one.setAttribute("aria-invalid", "true");
      else one.removeAttribute("aria-invalid");
    }
    return controls(asked)[0];
  };
  const checked = (form, part) => {
    let first = null;
    for (const one of controls(part)) {
      const words = wrong(form, one);
      const at = mark(form, one.name, words);
      if (words) first ??= at ?? one;
    }
    first?.focus();
    return !first;
  };

  // Answers over a reload, in this tab only.
  const place = (form) => `needle-form-${form.dataset.form}`;
  const keep = (form) => {
    const held = [...form.elements].filter((one) => one.name && !one.name.startsWith("_")
      && !["hidden", "file", "submit", "button"].includes(one.type))
      .map((one) => [one.name, one.value, ["radio", "checkbox"].includes(one.type) ? one.checked : null]);
    try {
      sessionStorage.setItem(place(form), JSON.stringify(
        { held, at: form.needleSteps?.at ?? 0, key: form.needleKey }));
    } catch { /* Without storage a reload begins anew. */ }
  };
  const recall = (form) => {
    try {
      const { held, at, key } = JSON.parse(sessionStorage.getItem(place(form)) ?? "{}");
      for (const [name, value, ticked] of held ?? []) {
        for (const one of [...form.elements].filter((e) => e.name === name)) {
          if (ticked === null) one.value = value;
          else if (one.value === value) one.checked = ticked;
        }
      }
      if (key) form.needleKey = key;
      return at ?? 0;
    } catch { return 0; }
  };
  const forget = (form) => { try { sessionStorage.removeItem(place(form)); } catch { /* As above. */ } };

  const thank = (form, answer) => {
    forget(form);
    const { part: framed } = document.body.dataset;
    dispatchEvent(new CustomEvent("needle:sent", { detail: { go: answer.go } }));
    if (answer.go && framed === undefined) location.href = answer.go;
    else {
      const note = document.createElement("p");
      note.className = "form-word";
      note.setAttribute("role", "status");
      note.tabIndex = -1;
      note.textContent = answer.words ?? "";
      form.replaceWith(note);
      note.focus();
    }
  };
  const keyOf = (form) => form.needleKey ??= Array.from(
    crypto.getRandomValues(new Uint8Array(16)), (byte) => byte.toString(16).padStart(2, "0")).join("");
  const pack = (form) => {
    const left = (form.needleSteps?.leftOut() ?? []).flatMap((step) => controls(step));
    for (const one of left) one.disabled = true;
    const data = new FormData(form);
    for (const one of left) one.disabled = false;
    data.set("_key", keyOf(form));
    data.set("_took", String(Math.round(performance.now() - opened)));
    data.set("_referrer", needleSource.referrer);
    data.set("_query", needleSource.query);
    data.set("_first", needleSource.first);
    data.set("_felt", `${felt.keys},${felt.points},${felt.made}`);
    if (document.body.dataset.ticket) data.set("_ticket", document.body.dataset.ticket);
    if (form.needleToken) data.set("_token", form.needleToken);
    return form.enctype === "multipart/form-data" ? data : new URLSearchParams(data);
  };
  const beside = (form, word) => form.action.replace("/lead/", `/${word}/`);
  const part = (form) => {
    const data = pack(form);
    for (const [name, value] of [...data]) if (value instanceof File) data.delete(name);
    fetch(beside(form, "part"), { method: "POST", keepalive: true, body: new URLSearchParams(data) })
      .catch(() => {});
  };
  // Asked for when somebody begins to fill the form in: it says when that was.
  const ask = (form) => {
    if (form.needleAsked || document.body.dataset.walk !== undefined) return;
    form.needleAsked = true;
    form.needleWait = fetch(`${beside(form, "token")}?key=${keyOf(form)}`).then((reply) => reply.json())
      .then((answer) => { form.needleToken = answer.token; }).catch(() => {});
  };
  const send = async (form, more = {}) => {
    const body = pack(form);
    for (const [name, value] of Object.entries(more)) body.set(name, value);
    const reply = await fetch(form.action, {
      method: "POST", body, headers: { Accept: "application/json" } });
    return [reply, await reply.json()];
  };
  const post = async (form) => {
    if (document.body.dataset.walk !== undefined) {
      say(form, "Walk-through: nothing was sent.");
      return;
    }
    const button = form.querySelector("[type=submit]");
    button.disabled = true;
    try {
      await form.needleWait;
      let [reply, answer] = await send(form);
      if (reply.status === 428) {
        say(form, spoken(form).proof);
        await new Promise((done) => { setTimeout(done, 30); });
        [reply, answer] = await send(form, { _work: answer.work,
          _proof: needleWork(answer.work, answer.bits) });
      }
      if (reply.ok) thank(form, answer);
      else {
        say(form, answer.fields ? "" : answer.words);
        let first = null;
        for (const [name, words] of Object.entries(answer.fields ?? {})) {
          if (!first) form.needleSteps?.showField(name);
          const at = mark(form, name, words);
          first ??= at;
        }
        if (first) first.focus();
        else say(form, answer.words);
      }
    } catch {
      say(form, spoken(form).unreached);
    } finally {
      button.disabled = false;
    }
  };
  const facts = (form) => ({
    ":referrer": needleSource.referrer, ":first": needleSource.first,
    ":language": navigator.language, ":page": document.title,
    ":variant": document.body.dataset.variant ?? "" });

  for (const form of document.querySelectorAll("form[data-form]")) {
    const query = new URLSearchParams(needleSource.query);
    const here = new URLSearchParams(location.search);
    const known = facts(form);
    for (const field of form.querySelectorAll("[data-from]")) {
      const from = field.dataset.from;
      field.value = known[from] ?? here.get(from) ?? query.get(from) ?? field.value;
    }
    form.noValidate = true;
    const at = recall(form);
    form.needleSteps = form.querySelector(".form-step")
      && needleSteps(form, { answersOf, checked, spoken, keep, part });
    form.needleSteps?.show(at, false);
    form.addEventListener("focusin", () => ask(form), { once: true });
    form.addEventListener("input", (event) => {
      if (event.target.name) mark(form, event.target.name, "");
      keep(form);
    });
    form.addEventListener("submit", (event) => {
      event.preventDefault();
      if (form.needleSteps ? form.needleSteps.forward() : checked(form, form)) post(form);
    });
  }
})();
