// Asks a form step by step, and only those steps that earlier answers call for.
const needleSteps = (form, { answersOf, checked, spoken, keep, part }) => {
  const all = [...form.querySelectorAll(".form-step")];
  const back = form.querySelector(".form-back");
  const button = form.querySelector("[type=submit]");
  const last = button.textContent;
  const progress = form.querySelector(".form-progress");
  let at = 0;
  const asked = () => {
    const shown = [];
    for (const step of all) {
      const { field, only } = step.dataset;
      const from = field && form.querySelector(`[data-asked="${CSS.escape(field)}"]`);
      const open = !from || shown.includes(from.closest(".form-step")) || !from.closest(".form-step");
      if (!field || (open && answersOf(form, field).some((one) => JSON.parse(only).includes(one)))) {
        shown.push(step);
      }
    }
    return shown;
  };
  const show = (number, focus) => {
    const shown = asked();
    at = Math.max(0, Math.min(number, shown.length - 1));
    for (const step of all) step.inert = step !== shown[at];
    back.hidden = at === 0;
    button.textContent = at === shown.length - 1 ? last : spoken(form).next;
    progress.hidden = false;
    progress.firstChild.textContent = form.dataset.stepWords
      .replace("{step}", at + 1).replace("{steps}", shown.length);
    progress.lastChild.max = shown.length;
    progress.lastChild.value = at + 1;
    if (focus) shown[at].querySelector("legend").focus();
  };
  form.dataset.stepped = "";
  back.addEventListener("click", () => { show(at - 1, true); keep(form); });
  form.addEventListener("change", () => show(at, false));
  return {
    get at() { return at; },
    show,
    // Whether the whole form may be sent now; else the next step is shown, or the first fault.
    forward() {
      const shown = asked();
      if (!checked(form, shown[at])) return false;
      if (at === shown.length - 1) return true;
      show(at + 1, true);
      keep(form);
      if (form.dataset.unfinished !== undefined) part(form);
      return false;
    },
    // What is not asked is not sent.
    leftOut: () => all.filter((step) => !asked().includes(step)),
    showField(name) {
      const step = form.querySelector(`[data-asked="${CSS.escape(name)}"]`)?.closest(".form-step");
      if (step) show(asked().indexOf(step), false);
    },
  };
};
