"""TLS with certificates of a private authority: right and wrong names, expired, not TLS at all."""

import asyncio
import ipaddress
import ssl
import tempfile
import unittest
from datetime import UTC, datetime, timedelta
from pathlib import Path

from cryptography import x509
from cryptography.hazmat.primitives import hashes, serialization
from cryptography.hazmat.primitives.asymmetric import ec
from cryptography.x509.oid import NameOID

from palinode.core.host_probe import Certificate
from palinode.gather import client, host_probe
from palinode.gather.access import Access, ConnectTo
from palinode.gather.fetch import fetch
from palinode.gather.guard import Guard
from palinode.gather.host_probe import is_literal
from tests.served import Served
from tests.site import Site, page

BODY = b"<title>Mill</title><h1>Mill</h1>"


AUTHORITY = ec.generate_private_key(ec.SECP256R1())


async def here(base, exchange):
    """Look in this process, since tests bring nothing that stops it."""
    return host_probe.look(base, exchange)


def common(text: str) -> x509.Name:
    return x509.Name([x509.NameAttribute(NameOID.COMMON_NAME, text)])


def authority(folder: Path) -> Path:
    """Write the certificate of the private authority to a file."""
    now = datetime.now(UTC)
    made = (
        x509.CertificateBuilder()
        .subject_name(common("Tide Authority"))
        .issuer_name(common("Tide Authority"))
        .public_key(AUTHORITY.public_key())
        .serial_number(x509.random_serial_number())
        .not_valid_before(now - timedelta(days=90))
        .not_valid_after(now + timedelta(days=90))
        .add_extension(x509.BasicConstraints(ca=True, path_length=None), critical=True)
        .add_extension(x509.SubjectKeyIdentifier.from_public_key(AUTHORITY.public_key()), critical=False)
        .sign(AUTHORITY, hashes.SHA256())
    )
    path = folder / "authority.pem"
    path.write_bytes(made.public_bytes(serialization.Encoding.PEM))
    return path


def certificate(folder: Path, *names: str, days: int = 30, extended: bool = True) -> Path:
    """Write a certificate of the private authority, and its key, to one file; without the extension if asked for."""
    now, key = datetime.now(UTC), ec.generate_private_key(ec.SECP256R1())

    made = (
        x509.CertificateBuilder()
        .subject_name(common(names[0]))
        .issuer_name(common("Tide Authority"))
        .public_key(key.public_key())
        .serial_number(x509.random_serial_number())
        .not_valid_before(now - timedelta(days=90))
        .not_valid_after(now + timedelta(days=days))
    )
    if extended:
        made = made.add_extension(x509.SubjectAlternativeName([_named(one) for one in names]), critical=False)
    made = made.sign(AUTHORITY, hashes.SHA256())
    path = folder / f"{names[0]}{days}.pem"
    path.write_bytes(
        made.public_bytes(serialization.Encoding.PEM)
        + key.private_bytes(serialization.Encoding.PEM, serialization.PrivateFormat.PKCS8, serialization.NoEncryption())
    )
    return path


def _named(name: str) -> x509.GeneralName:
    return x509.IPAddress(ipaddress.ip_address(name)) if is_literal(name) else x509.DNSName(name)


class Secure(Served):
    """A host that speaks TLS with one certificate; notes the names that it was asked for."""

    def __init__(self, path: Path) -> None:
        super().__init__()
        self.context = ssl.SSLContext(ssl.PROTOCOL_TLS_SERVER)
        self.context.load_cert_chain(path)
        self.context.sni_callback = lambda _socket, name, _context: self.names.append(name)
        self.names: list[str | None] = []

    async def start(self) -> int:
        """Listen; return the port."""
        asyncio.get_running_loop().set_exception_handler(lambda *_: None)
        server = await asyncio.start_server(self._answer, "127.0.0.1", 0, ssl=self.context)
        return server.sockets[0].getsockname()[1]

    async def _answer(self, reader: asyncio.StreamReader, writer: asyncio.StreamWriter) -> None:
        try:
            await reader.readuntil(b"\r\n\r\n")
            writer.write(b"HTTP/1.1 200 OK\r\nContent-Type: text/html\r\nContent-Length: %d\r\nConnection: close\r\n\r\n" % len(BODY) + BODY)  # fmt: skip
            await writer.drain()
        except (OSError, asyncio.IncompleteReadError):
            pass
        finally:
            writer.close()


def reach(port: int, **more: object) -> Access:
    return Access(("https://mill.example/",), (ConnectTo("mill.example", 443, "127.0.0.1", port),), **more)


class TlsTest(unittest.TestCase):
    def setUp(self):
        folder = tempfile.TemporaryDirectory()
        self.addCleanup(folder.cleanup)
        self.folder = Path(folder.name)

    def fetch(self, port: int, **more: object):
        async def run():
            access = reach(port, **more)
            async with client.session(access, Guard([f"127.0.0.1/32:{port}"]), 2, "Test/1") as session:
                return await fetch(session, access, access.base, 1)

        return asyncio.run(run())

    def test_what_nobody_vouches_for_is_refused_and_let_through_when_a_person_says_so(self):
        for names, days in [(("mill.example",), 30), (("other.example",), 30), (("mill.example",), -1)]:
            with self.subTest(names=names, days=days), Secure(certificate(self.folder, *names, days=days)) as host:
                refused = self.fetch(host.port)
                self.assertIsNone(refused.status)
                self.assertIn("refused: the certificate does not fit", refused.reason)
                self.assertEqual(self.fetch(host.port, any_certificate=True).body, BODY)
                self.assertEqual(set(host.names), {"mill.example"}, "the name is sent whatever is connected to")

    def test_an_authority_that_the_installation_trusts(self):
        trusted = str(authority(self.folder))
        for names, days, fits in [
            (("mill.example",), 30, True),
            (("other.example",), 30, False),
            (("mill.example",), -1, False),
        ]:
            with self.subTest(names=names, days=days), Secure(certificate(self.folder, *names, days=days)) as host:
                answer = self.fetch(host.port, authorities=trusted)
                self.assertEqual(answer.status == 200, fits, answer.reason)

    def test_who_answers_tells_names_days_and_whether_they_fit(self):
        for names, days, fits in [
            (("mill.example", "www.mill.example"), 30, True),
            (("*.example",), 30, True),
            (("www.mill.example",), 30, False),
            (("*.mill.example",), 30, False),
            (("mill.example",), -1, False),
        ]:
            with self.subTest(names=names, days=days), Secure(certificate(self.folder, *names, days=days)) as host:
                access = reach(host.port, any_certificate=True)
                found = asyncio.run(host_probe.who(access, Guard([f"127.0.0.1/32:{host.port}"]), "Test/1", here))
                self.assertEqual((found.status, found.title), (200, "Mill"))
                self.assertEqual((found.certificate.names, found.certificate.fits), (names, fits))
                self.assertEqual(found.certificate.days_left < 0, days < 0)
                alone = asyncio.run(host_probe.certificate(access, Guard([f"127.0.0.1/32:{host.port}"])))
                self.assertEqual(alone, found.certificate)

    def test_a_common_name_covers_nothing(self):
        path = certificate(self.folder, "mill.example", extended=False)
        with Secure(path) as host:
            answer = self.fetch(host.port, authorities=str(authority(self.folder)))
            found = asyncio.run(host_probe.certificate(reach(host.port), Guard([f"127.0.0.1/32:{host.port}"])))
        self.assertIsNone(answer.status)
        self.assertEqual((found.names, found.fits), ((), False))

    def test_a_wildcard_stands_for_one_label_of_a_name_and_addresses_for_themselves(self):
        for names, host, fits in (
            (("*.mill.example",), "www.mill.example", True),
            (("*.mill.example",), "a.www.mill.example", False),
            (("*.0.0.1",), "127.0.0.1", False),
            (("127.0.0.1",), "127.0.0.1", True),
            (("mill.example",), "127.0.0.1", False),
        ):
            with self.subTest(names=names, host=host):
                data = x509.load_pem_x509_certificates(certificate(self.folder, *names).read_bytes())[0]
                der = data.public_bytes(serialization.Encoding.DER)
                self.assertEqual(host_probe.read_certificate(der, host, datetime.now(UTC)).fits, fits)

    def test_what_a_certificate_says_in_words(self):
        for certificate, said in (
            (Certificate(("a.example", "*.a.example"), 12, True), "fits: for a.example, *.a.example; 12 days left"),
            (Certificate(("b.example",), -3, False), "does not fit: for b.example; run out"),
            (Certificate((), 5, False), "does not fit: for no name; 5 days left"),
            (Certificate(tuple("abcdef"), 5, True), "fits: for a, b, c, d, e and others; 5 days left"),
        ):
            self.assertEqual(certificate.sentence, said)

    def test_a_refused_certificate_says_what_to_do(self):
        with Secure(certificate(self.folder, "other.example")) as host:
            found = asyncio.run(host_probe.who(reach(host.port), Guard([f"127.0.0.1/32:{host.port}"]), "Test/1", here))
        self.assertIsNone(found.status)
        self.assertIn("Tick", found.fault)
        self.assertEqual(found.certificate.names, ("other.example",))

    def test_a_host_that_does_not_speak_tls(self):
        with Site({"/": page("Plain")}) as site:
            exchange = self.fetch(site.port)
        self.assertIsNone(exchange.status)
        self.assertIn("does not speak TLS", exchange.reason)
