"""The smallest PDF that holds a page of text: enough for a tide table."""


def write(lines: list[str]) -> bytes:
    """Return a one-page PDF 1.4 with one line of text under the other."""
    shown = [line.replace("\\", "\\\\").replace("(", "\\(").replace(")", "\\)") for line in lines]
    text = "BT /F1 10 Tf 50 790 Td 13 TL " + " ".join(f"({line}) Tj T*" for line in shown) + " ET"
    objects = [
        "<< /Type /Catalog /Pages 2 0 R >>",
        "<< /Type /Pages /Kids [3 0 R] /Count 1 >>",
        "<< /Type /Page /Parent 2 0 R /MediaBox [0 0 595 842] /Contents 4 0 R /Resources << /Font << /F1 5 0 R >> >> >>",
        f"<< /Length {len(text)} >>\nstream\n{text}\nendstream",
        "<< /Type /Font /Subtype /Type1 /BaseFont /Courier >>",
    ]
    out, offsets = b"%PDF-1.4\n", []
    for number, content in enumerate(objects, 1):
        offsets.append(len(out))
        out += f"{number} 0 obj\n{content}\nendobj\n".encode("latin-1")
    table = "".join(f"{offset:010} 00000 n \n" for offset in offsets)
    start = len(out)
    trailer = f"trailer << /Size {len(objects) + 1} /Root 1 0 R >>\nstartxref\n{start}\n%%EOF\n"
    return out + f"xref\n0 {len(objects) + 1}\n0000000000 65535 f \n{table}{trailer}".encode()
