"""Every place in a page where an address may stand, each by itself."""

import unittest

from palinode.core import facts
from palinode.core.fields import Place

AT = "http://mill.example/visit/"


def read(body: str, head: str = "") -> facts.Facts:
    markup = f"<!doctype html><html><head>{head}</head><body><main>{body}</main></body></html>"
    return facts.read(AT, {"content-type": "text/html"}, markup.encode())


def found(body: str, head: str = "") -> set[tuple[Place, str]]:
    return {(one.place, one.address.removeprefix("http://mill.example")) for one in read(body, head).references}


class PlacesTest(unittest.TestCase):
    def test_without_scripts(self):
        self.assertEqual(
            found('<noscript><img src=/a.png srcset="/b.png 2x"><a href=/c>more</a></noscript>'),
            {(Place.SRCSET, "/a.png"), (Place.SRCSET, "/b.png"), (Place.TEMPLATE_LINK, "/c")},
        )
        self.assertEqual(found("", "<noscript><link rel=stylesheet href=/n.css></noscript>"), {(Place.STYLE, "/n.css")})
        self.assertEqual([one.text for one in read("<p>Yes<noscript>No</noscript>").blocks], ["Yes"])

    def test_images_that_scripts_load_later(self):
        for name in ("data-src", "data-lazy-src", "data-original", "data-lazy"):
            with self.subTest(name):
                self.assertEqual(
                    found(f"<img src=data:image/gif;base64,R0 {name}=/a.png alt=A>"), {(Place.IMAGE, "/a.png")}
                )
        self.assertEqual(
            found("<img src=/blank.gif data-src=/a.png>"), {(Place.IMAGE, "/a.png"), (Place.SRCSET, "/blank.gif")}
        )

    def test_the_same_image_at_once_and_later_is_one_image(self):
        prints = [read(f"<img {one} alt=Wheel>").fingerprints() for one in ("src=/a.png", "src=/b.gif data-src=/a.png")]
        self.assertEqual(*(facts.whole(one) for one in prints))

    def test_sets_of_images_that_scripts_load_later(self):
        for name in ("data-srcset", "data-lazy-srcset"):
            self.assertEqual(
                found(f'<img {name}="/a.png 1x, /b.png 2x">'), {(Place.SRCSET, "/a.png"), (Place.SRCSET, "/b.png")}
            )

    def test_sources_of_pictures_and_films(self):
        self.assertEqual(found('<picture><source data-srcset="/a.webp 2x"></picture>'), {(Place.SRCSET, "/a.webp")})
        self.assertEqual(found("<video><source data-src=/a.mp4></video>"), {(Place.MEDIA, "/a.mp4")})
        self.assertEqual(
            found("<video poster=/p.jpg data-src=/a.mp4 data-poster=/q.jpg></video>"),
            {(Place.MEDIA, "/p.jpg"), (Place.MEDIA, "/a.mp4"), (Place.MEDIA, "/q.jpg")},
        )

    def test_frames_that_scripts_load_later(self):
        self.assertEqual(found("<iframe data-src=/map></iframe>"), {(Place.FRAME, "/map")})

    def test_drawings(self):
        self.assertEqual(found("<svg><image href=/a.png /></svg>"), {(Place.MEDIA, "/a.png")})
        self.assertEqual(found("<svg><image xlink:href=/a.png /></svg>"), {(Place.MEDIA, "/a.png")})
        self.assertEqual(found("<svg><use href=/icons.svg#wheel /></svg>"), {(Place.MEDIA, "/icons.svg")})
        self.assertEqual(found("<svg><use href=#wheel /></svg>"), set())

    def test_where_a_button_sends_its_form(self):
        self.assertEqual(
            found("<form action=/a><button formaction=/b>Go</button><input type=submit formaction=/c></form>"),
            {(Place.FORM, "/a"), (Place.TEMPLATE_FORM, "/b"), (Place.TEMPLATE_FORM, "/c")},
        )

    def test_backgrounds(self):
        self.assertEqual(
            found("<table background=/a.png><tr><td background=/b.png>x</table>"),
            {(Place.STYLE, "/a.png"), (Place.STYLE, "/b.png")},
        )

    def test_objects_and_what_stands_in_their_place(self):
        self.assertEqual(
            found("<object data=/a.svg><img src=/a.png><a href=/a.pdf>As a file</a></object>"),
            {(Place.MEDIA, "/a.svg"), (Place.SRCSET, "/a.png"), (Place.TEMPLATE_LINK, "/a.pdf")},
        )

    def test_microdata(self):
        product = (
            '<div itemscope itemtype="https://schema.org/Product"><link itemprop=url href=/shop/oats>'
            "<meta itemprop=image content=/oats.png><img itemprop=image src=/sack.png alt=Sack>"
            '<span itemprop=offers itemscope itemtype="https://schema.org/Offer">5</span></div>'
        )
        self.assertEqual(read(product).structured, ("Product", "Offer"))
        self.assertLessEqual(
            {(Place.DATA, "/shop/oats"), (Place.MEDIA, "/oats.png"), (Place.MEDIA, "/sack.png")}, found(product)
        )

    def test_a_page_that_only_speaks_of_them(self):
        self.assertEqual(
            found("<pre>&lt;noscript&gt; data-src=/a formaction=/b background=/c itemprop=url &lt;svg</pre>"), set()
        )
