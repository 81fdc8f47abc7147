"""A PDF of one page with some words, written by hand."""


def pdf_with(words: str) -> bytes:
    text = f"BT /F1 18 Tf 40 100 Td ({words}) Tj ET".encode()
    parts = [
        b"<< /Type /Catalog /Pages 2 0 R >>",
        b"<< /Type /Pages /Kids [3 0 R] /Count 1 >>",
        b"<< /Type /Page /Parent 2 0 R /MediaBox [0 0 300 200] /Contents 4 0 R /Resources << /Font << /F1 5 0 R >> >> >>",
        b"<< /Length " + str(len(text)).encode() + b" >>\nstream\n" + text + b"\nendstream",
        b"<< /Type /Font /Subtype /Type1 /BaseFont /Helvetica >>",
    ]
    out = b"%PDF-1.4\n"
    places = []
    for n, part in enumerate(parts, 1):
        places.append(len(out))
        out += f"{n} 0 obj\n".encode() + part + b"\nendobj\n"
    start = len(out)
    out += f"xref\n0 {len(parts) + 1}\n0000000000 65535 f \n".encode()
    out += b"".join(f"{place:010} 00000 n \n".encode() for place in places)
    return out + f"trailer << /Size {len(parts) + 1} /Root 1 0 R >>\nstartxref\n{start}\n%%EOF\n".encode()
