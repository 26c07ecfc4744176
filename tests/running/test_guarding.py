"""Limits of connections, with a server of its own."""

import socket
import threading
import time
import unittest

import httpx
import uvicorn

from needle.running.guarding import Guard, guarded, range_of


async def _app(scope, receive, send):  # type: ignore[no-untyped-def]
    body = b""
    while True:
        message = await receive()
        body += message.get("body", b"")
        if not message.get("more_body"):
            break
    await send({"type": "http.response.start", "status": 200, "headers": []})
    await send({"type": "http.response.body", "body": str(len(body)).encode()})


class GuardTest(unittest.TestCase):
    def serve(self, guard: Guard) -> int:
        listener = socket.socket()
        listener.bind(("127.0.0.1", 0))
        listener.listen(512)
        server = uvicorn.Server(uvicorn.Config(_app, log_config=None, lifespan="off", ws="none",
                                               http=guarded(guard)))
        thread = threading.Thread(target=server.run, kwargs={"sockets": [listener]})
        thread.start()

        def end() -> None:
            server.should_exit = True
            thread.join()

        self.addCleanup(end)
        return int(listener.getsockname()[1])

    def connect(self, port: int, data: bytes = b"") -> socket.socket:
        one = socket.create_connection(("127.0.0.1", port), timeout=240)
        self.addCleanup(one.close)
        one.sendall(data)
        return one

    def closed(self, one: socket.socket) -> bool:
        try:
            return one.recv(1) == b""
        except ConnectionResetError:
            return True

    def test_a_head_that_never_ends_is_cut(self) -> None:
        port = self.serve(Guard(head_s=0.3))
        for data in (b"", b"GET / HTTP/1.1\r\nHost: x\r\nX: "):
            self.assertTrue(self.closed(self.connect(port, data)))

    def test_a_body_that_never_ends_is_cut(self) -> None:
        port = self.serve(Guard(body_s=0.3))
        self.assertTrue(self.closed(self.connect(
            port, b"POST / HTTP/1.1\r\nHost: x\r\nContent-Length: 99\r\n\r\nabc")))

    def test_a_connection_that_is_kept_serves_many_and_a_slow_whole_body_is_taken(self) -> None:
        port = self.serve(Guard(head_s=60, body_s=60))
        with httpx.Client(trust_env=False, timeout=60,
                          base_url=f"http://127.0.0.1:{port}") as client:
            for size in (0, 10, 500_000):
                self.assertEqual(client.post("/", content=b"x" * size).text, str(size))

    def test_the_one_that_waits_longest_gives_way(self) -> None:
        guard = Guard(most=6, head_s=60)
        port = self.serve(guard)
        held = [self.connect(port) for _ in range(6)]
        deadline = time.monotonic() + 240
        while guard._count < 6 and time.monotonic() < deadline:
            time.sleep(0.01)
        answer = httpx.get(f"http://127.0.0.1:{port}/", trust_env=False, timeout=60)
        self.assertEqual(answer.text, "0")
        self.assertTrue(self.closed(held[0]))

    def test_a_range_is_a_network(self) -> None:
        self.assertEqual(range_of("192.0.2.77"), "192.0.2.0/24")
        self.assertEqual(range_of("2001:db8:1:2::3"), "2001:db8:1::/48")
        self.assertEqual(range_of("odd"), "odd")
