"""What a host says with its answers alike."""

import json
import unittest

from palinode.core import header_set


def head(*lines: str) -> bytes:
    return "\r\n".join(["HTTP/1.1 200 OK", *lines, "", ""]).encode()


def fields(*lines: str) -> list[list[str]]:
    return json.loads(header_set.of(head(*lines)).fields)


class HeaderSetTest(unittest.TestCase):
    def test_answers_that_differ_in_what_is_told_of_one_answer_alone_share_a_set(self):
        first = ("Server: nginx", "Date: Mon, 02 Nov 2026 10:00:00 GMT", 'ETag: "1"', "Content-Length: 5", "Age: 3")
        other = ("server:nginx", "Date: Tue, 03 Nov 2026 10:00:00 GMT", "Location: /x/", "Link: </a>; rel=next")
        self.assertEqual(header_set.of(head(*first)), header_set.of(head(*other)))
        self.assertEqual(fields(*first), [["server", "nginx"]])

    def test_a_setting_that_differs_makes_another_set(self):
        one = header_set.of(head("Strict-Transport-Security: max-age=31536000"))
        self.assertNotEqual(one, header_set.of(head("Strict-Transport-Security: max-age=63072000")))
        self.assertIn("31536000", one.fields)
        self.assertNotEqual(one, header_set.of(head()))

    def test_the_order_of_fields_does_not_count_but_that_of_repeated_ones_is_kept(self):
        self.assertEqual(header_set.of(head("A: 1", "B: 2")), header_set.of(head("B: 2", "A: 1")))
        self.assertEqual(fields("Vary: b", "Vary: a"), [["vary", "b"], ["vary", "a"]])

    def test_what_is_made_anew_for_each_answer_is_left_out_of_values(self):
        self.assertEqual(fields("X-Request-Id: 5f3a9c21-77aa-4d1e"), [["x-request-id", "…"]])
        self.assertEqual(fields("X-Cache: MISS from cache-node, 12"), [["x-cache", "MISS from cache-node, 12"]])
        self.assertEqual(
            fields("Content-Security-Policy: script-src 'nonce-ab12cd' 'self'"),
            [["content-security-policy", "script-src 'nonce-…' 'self'"]],
        )

    def test_a_cookie_is_told_by_its_name_and_attributes_never_by_what_it_holds(self):
        said = fields("Set-Cookie: sid=s3cr3t; Path=/; expires=Wed, 01 Jan 2027 00:00:00 GMT; HttpOnly")
        self.assertEqual(said, [["set-cookie", "sid=…; Path=/; Expires=…; HttpOnly"]])
        self.assertEqual(fields("Set-Cookie: wp_logged_in_0a1b2c3d4e=x"), [["set-cookie", "…=…"]])

    def test_a_head_is_read_within_bounds(self):
        said = fields(*(f"X-{n}: v" for n in range(500)), "Server: late")
        self.assertEqual(len(said), 100)
        self.assertEqual(len(fields(f"Server: {'v' * 5_000}")[0][1]), 2_000)
        self.assertEqual(fields("no colon here"), [])
        self.assertEqual(json.loads(header_set.of(b"\xff\xfe").fields), [])
