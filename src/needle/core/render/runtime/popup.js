// Opens and closes popups. Without it, the anchor of a popup still shows it.
(() => {
  const shut = (dialog) => {
    if (dialog.open) dialog.close();
    else if (location.hash === `#${dialog.id}`) location.hash = "";
  };
  document.addEventListener("click", (event) => {
    const opener = event.target.closest("[data-open]");
    const dialog = opener && document.getElementById(opener.dataset.open);
    if (dialog) {
      event.preventDefault();
      dialog.showModal();
      return;
    }
    if (event.target.closest("[data-close]")) {
      event.preventDefault();
      shut(event.target.closest("dialog"));
    } else if (event.target.matches("dialog[open]")) {
      const box = event.target.getBoundingClientRect();
      const inside = event.clientX >= box.left && event.clientX <= box.right
        && event.clientY >= box.top && event.clientY <= box.bottom;
      if (!inside) shut(event.target);
    }
  });
})();
