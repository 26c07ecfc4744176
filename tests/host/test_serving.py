"""What the host answers to odd requests, through its own process."""


from pathlib import Path

from tests.host.stall import StallTest


class ServingTest(StallTest):
    def test_nothing_outside_the_live_folder_is_given_away(self) -> None:
        for path in ("/assets/..%2f..%2fsite.json", "/..%2fsite.json", "/live.json",
                     "/sent/page1.json", "/assets/../live.json", "/results.db"):
            with self.subTest(path):
                self.assertEqual(self.visitor.get(path).status_code, 404)

    def test_words_in_an_address_are_not_markup(self) -> None:
        answer = self.visitor.get("/<script>alert(1)</script>")
        self.assertNotIn("<script>", answer.text)

    def test_it_listens_on_this_machine_only(self) -> None:
        # Linux tells who listens where: hexadecimal address and port, 0A for listening.
        table = [line.split() for name in ("tcp", "tcp6")
                 for line in Path(f"/proc/net/{name}").read_text().splitlines()[1:]]
        where = {cells[1].split(":")[0] for cells in table
                 if cells[3] == "0A" and int(cells[1].split(":")[1], 16) == self.stand.port}
        self.assertEqual(where, {"0100007F"})

    def test_a_port_in_use_is_left_for_another(self) -> None:
        from needle.running.stand import Stand

        second = Stand(self.folder, self.stand.port)
        self.addCleanup(second.stop)
        self.assertEqual(second.faults, [])
        self.assertNotIn(second.port, (0, self.stand.port))
