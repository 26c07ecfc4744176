// Where the visit came from, kept for the form; consent, and the count that it allows; the form.
const held = (name, value) => {
  try {
    if (value === undefined) return JSON.parse(sessionStorage.getItem(name));
    sessionStorage.setItem(name, JSON.stringify(value));
  } catch { /* Without storage nothing is kept. */ }
  return value ?? null;
};
const source = held("source") ?? held("source", {
  query: location.search, referrer: document.referrer, first: location.href });

const banner = document.querySelector(".consent");
const count = () => { new Image().src = "https://count.practice.example/hit?site=quillmoor"; };
let consent;
try { consent = JSON.parse(localStorage.getItem("consent")); } catch { /* Asked again. */ }
if (consent?.includes("statistics")) count();
banner.hidden = Boolean(consent);
banner.addEventListener("click", ({ target }) => {
  const { answer } = target.dataset;
  if (!answer) return;
  const given = answer === "all" || banner.querySelector("input").checked ? ["statistics"] : [];
  try { localStorage.setItem("consent", JSON.stringify(given)); } catch { /* Asked again. */ }
  banner.hidden = true;
  if (given.length) count();
});

const form = document.forms[0];
const word = form.querySelector(".word");
const say = (place, words) => { place.textContent = words; place.hidden = !words; };
const mark = (input, words) => {
  say(document.getElementById(`${input.id}-f`), words);
  input.toggleAttribute("aria-invalid", Boolean(words));
};
const began = performance.now();
const key = [...crypto.getRandomValues(new Uint8Array(16))]
  .map((byte) => byte.toString(16).padStart(2, "0")).join("");
let token;
form.noValidate = true;
form.mail.value = held("mail") ?? "";
form.addEventListener("focusin", () => {
  token ??= fetch(`lead/token?key=${key}`).then((reply) => reply.text()).catch(() => "");
});
form.addEventListener("input", ({ target }) => {
  mark(target, "");
  held("mail", form.mail.value);
});
form.addEventListener("submit", async (event) => {
  event.preventDefault();
  let wrong;
  for (const input of [form.mail, form.yes]) {
    const { valid, valueMissing } = input.validity;
    mark(input, valid ? "" : valueMissing ? "An answer is needed here."
      : "This does not look like an e-mail address.");
    if (!valid) wrong ??= input;
  }
  if (wrong) { wrong.focus(); return; }
  const button = form.querySelector("button");
  button.disabled = true;
  try {
    const body = new URLSearchParams(new FormData(form));
    for (const [name, value] of Object.entries({ ...source, key, token: await token,
      took: Math.round(performance.now() - began) })) body.set(name, value);
    const reply = await fetch(form.action, {
      method: "POST", body, headers: { Accept: "application/json" } });
    const answer = await reply.json();
    if (reply.ok) location.href = answer.go;
    else for (const [name, words] of Object.entries(answer.fields)) mark(form[name], words);
  } catch {
    say(word, "The page could not reach its server. Your answers are still here; please send again.");
  }
  button.disabled = false;
});
