// Sends a form in place, says what is wrong beside it, and never sends twice.
(() => {
  const opened = performance.now();
  const query = new URLSearchParams(location.search);
  const say = (form, words) => {
    const place = form.querySelector(".form-word");
    place.textContent = words;
    place.hidden = !words;
  };
  const thank = (form, answer) => {
    if (answer.go) location.href = answer.go;
    else {
      const note = document.createElement("p");
      note.className = "form-word";
      note.setAttribute("role", "status");
      note.tabIndex = -1;
      note.textContent = answer.words;
      form.replaceWith(note);
      note.focus();
    }
  };
  const pack = (form) => {
    const data = new FormData(form);
    form.needleKey ??= Array.from(crypto.getRandomValues(new Uint8Array(16)),
      (byte) => byte.toString(16).padStart(2, "0")).join("");
    data.set("_key", form.needleKey);
    data.set("_took", String(Math.round(performance.now() - opened)));
    data.set("_referrer", document.referrer);
    data.set("_query", location.search);
    return new URLSearchParams(data);
  };
  const post = async (form) => {
    if (document.body.dataset.walk !== undefined) {
      say(form, "Walk-through: nothing was sent.");
      return;
    }
    const button = form.querySelector("[type=submit]");
    button.disabled = true;
    try {
      const reply = await fetch(form.action, {
        method: "POST", body: pack(form), headers: { Accept: "application/json" },
      });
      const answer = await reply.json();
      if (reply.ok) thank(form, answer);
      else say(form, answer.words);
    } catch {
      say(form, "The page could not reach its server. Your answers are still here; please send again.");
    } finally {
      button.disabled = false;
    }
  };
  for (const form of document.querySelectorAll("form[data-form]")) {
    for (const field of form.querySelectorAll("[data-from]")) {
      field.value = query.get(field.dataset.from) ?? "";
    }
    form.addEventListener("submit", (event) => {
      event.preventDefault();
      post(form);
    });
  }
})();
