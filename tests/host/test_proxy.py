"""Behind a real nginx: a Host that is rewritten, the visitor's own address, https, and a folder."""

import shutil
import socket
import ssl
import subprocess
import tempfile
import time
import unittest
from pathlib import Path

import httpx
import trustme

from needle.publish.folder import publish_folder
from needle.running.children import Child
from needle.store.project import read_site
from needle.store.results.book import Filter, list_leads
from tests.host.stall import BROWSER, StallTest, wait_for
from tests.sites import EMAIL, FORM, NAME, PAGE

_CONF = """
daemon off; pid {root}/pid; error_log {root}/error.log; worker_processes 1;
events {{ worker_connections 64; }}
http {{
  access_log off; include /etc/nginx/mime.types;
  client_body_temp_path {root}/b; proxy_temp_path {root}/p; fastcgi_temp_path {root}/f;
  uwsgi_temp_path {root}/u; scgi_temp_path {root}/s;
  server {{ listen 127.0.0.1:{port}; {inside} }}
}}
"""


def _free_port() -> int:
    with socket.socket() as one:
        one.bind(("127.0.0.1", 0))
        return int(one.getsockname()[1])


@unittest.skipIf(shutil.which("nginx") is None, "nginx is not installed")
class ProxyTest(StallTest):
    def nginx(self, inside: str) -> str:
        folder = tempfile.TemporaryDirectory()
        self.addCleanup(folder.cleanup)
        port = _free_port()
        conf = Path(folder.name) / "nginx.conf"
        conf.write_text(_CONF.format(root=folder.name, port=port, inside=inside))
        process = subprocess.Popen([str(shutil.which("nginx")), "-c", str(conf), "-p", folder.name],
                                   stdin=subprocess.DEVNULL, stderr=subprocess.DEVNULL)

        def end() -> None:
            process.terminate()
            process.wait()

        self.addCleanup(end)
        base = f"http://127.0.0.1:{port}"
        self.assertTrue(wait_for(lambda: _answers(base)))
        return base

    def host(self, *more: str) -> str:
        child = Child("needle.host", [str(self.folder), "--port", "0", *more])
        self.addCleanup(child.stop)
        return f"127.0.0.1:{child.facts['port']}"

    def test_a_proxy_that_rewrites_host_makes_nobody_a_robot(self) -> None:
        host = self.host("--public", "https://www.hill.example", "--behind", "127.0.0.1")
        base = self.nginx(f"location / {{ proxy_pass http://{host}; proxy_set_header Host {host}; "
                          "proxy_set_header X-Forwarded-For 203.0.113.7; "
                          "proxy_set_header X-Forwarded-Proto https; }")
        with httpx.Client(base_url=base, headers=BROWSER, trust_env=False, timeout=240) as client:
            page = client.get(f"/{self.made.page(PAGE).slug}")
            self.assertEqual(page.status_code, 200)
            self.assertIn("max-age", page.headers["strict-transport-security"])
            self.assertNotIn("set-cookie", page.headers)
            answer = client.post(
                f"/_needle/lead/{FORM}", data=self.answers("ro@mail.example"),
                headers={"Origin": "https://www.hill.example", "Accept": "application/json"})
            self.assertEqual(answer.status_code, 200)
        (lead,) = list_leads(self.engine, Filter(robots="with"))
        self.assertFalse(lead.robot, lead.signs)
        self.assertNotIn("another site", lead.signs)

    def test_nor_does_one_that_nobody_told_the_host_of(self) -> None:
        host = f"127.0.0.1:{self.stand.port}"
        base = self.nginx(f"location / {{ proxy_pass http://{host}; "
                          f"proxy_set_header Host {host}; }}")
        with httpx.Client(base_url=base, headers=BROWSER, trust_env=False, timeout=240) as client:
            client.get(f"/{self.made.page(PAGE).slug}")
            client.post(f"/_needle/lead/{FORM}", data=self.answers("ro@mail.example"),
                        headers={"Origin": "https://www.hill.example"})
        (lead,) = list_leads(self.engine, Filter(robots="with"))
        self.assertFalse(lead.robot, lead.signs)

    def test_nobody_elses_word_about_an_address_is_taken(self) -> None:
        with httpx.Client(base_url=self.visitor.base_url, headers=self.visitor.headers,
                          trust_env=False, timeout=240) as client:
            for number in range(50):
                client.post(f"/_needle/lead/{FORM}", data={
                    NAME: "x", EMAIL: f"r{number}@mail.example", "_took": "9000"},
                    headers={"X-Forwarded-For": f"198.51.{number}.1"})
        newest = list_leads(self.engine, Filter(robots="with"), limit=1)[0]
        self.assertIn("leads from these addresses", newest.signs)

    def test_a_published_folder_gets_its_headers_by_the_file_that_comes_with_it(self) -> None:
        out = self.folder.parent / "out"
        publish_folder(read_site(self.folder), self.folder, out)
        (out / "assets" / "drawn.svg").write_text("<svg xmlns='http://www.w3.org/2000/svg'/>")
        # The tests' own folders are private; nginx' workers are another user's.
        shutil.copytree(out, served := Path(tempfile.mkdtemp(dir="/tmp")), dirs_exist_ok=True)
        self.addCleanup(shutil.rmtree, served)
        for path in (served, *served.rglob("*")):
            path.chmod(0o755 if path.is_dir() else 0o644)
        base = self.nginx(f"root {served}; index index.html; "
                          f"include {served}/needle.nginx.conf;")
        page = httpx.get(f"{base}/{self.made.page(PAGE).slug}/", trust_env=False, timeout=240)
        self.assertEqual(page.status_code, 200)
        for name in ("x-content-type-options", "referrer-policy", "permissions-policy",
                     "cross-origin-opener-policy"):
            self.assertIn(name, page.headers)
        self.assertIn("http-equiv=\"Content-Security-Policy\"", page.text)
        drawing = httpx.get(f"{base}/assets/drawn.svg", trust_env=False, timeout=240)
        self.assertIn("sandbox", drawing.headers["content-security-policy"])
        self.assertEqual(httpx.get(f"{base}/needle.nginx.conf",
                                   trust_env=False).status_code, 404)

    def test_the_host_speaks_https_itself(self) -> None:
        authority = trustme.CA()
        issued = authority.issue_cert(f"{self.made.address}.localhost")
        certificate, key = self.folder.parent / "c.pem", self.folder.parent / "k.pem"
        issued.private_key_pem.write_to_path(str(key))
        for number, part in enumerate(issued.cert_chain_pems):
            part.write_to_path(str(certificate), append=number > 0)
        host = self.host("--certificate", str(certificate), "--key", str(key))
        context = ssl.create_default_context()
        authority.configure_trust(context)
        name, port = f"{self.made.address}.localhost", int(host.rpartition(":")[2])
        with httpx.Client(verify=context, trust_env=False, timeout=240) as client:
            answer = client.get(
                f"https://127.0.0.1:{port}/{self.made.page(PAGE).slug}", headers={"Host": name},
                extensions={"sni_hostname": name})
        self.assertEqual(answer.status_code, 200)
        self.assertIn("strict-transport-security", answer.headers)

    def test_a_second_host_leaves_the_firsts_address_alone(self) -> None:
        place = self.folder / "live" / "host.address"
        before = place.read_text()
        self.host()
        time.sleep(0.2)
        self.assertEqual(place.read_text(), before)
        self.assertIn(str(self.stand.port), before)


def _answers(base: str) -> bool:
    try:
        httpx.get(base, trust_env=False, timeout=240)
    except httpx.HTTPError:
        return False
    return True
