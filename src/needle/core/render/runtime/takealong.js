// Links to pages that call in what is reached there take along what tells whom it was.
document.addEventListener("needle-visit", async ({ detail }) => {
  if (detail.status !== 200) return;
  const tickets = await detail.json();
  const parts = document.body.dataset.out.split(" ");
  for (let at = 0; at < parts.length; at += 2) {
    const begins = parts[at + 1].replace(/\/$/, "");
    document.querySelectorAll("a[href]").forEach((link) => {
      const leads = link.href === begins
        || ["/", "?", "#"].some((sign) => link.href.startsWith(begins + sign));
      if (!leads || !tickets[parts[at]]) return;
      const address = new URL(link.href);
      address.searchParams.set("needle", tickets[parts[at]]);
      link.href = address.href;
    });
  }
});
