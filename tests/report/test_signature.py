"""Signatures of issued reports: what they cover, what they find, whose they are."""

import io
import stat

import pypdf
import pytest

from madidus.core.errors import ModelError
from madidus.core.model.project import fingerprint
from madidus.report.document import report_pdf
from madidus.report.signature import Signer, certificate_print, signature_of
from madidus.report.verify import verified

from .made import tank_run


@pytest.fixture(scope="module")
def signer(tmp_path_factory):
    return Signer(tmp_path_factory.mktemp("signing"))


@pytest.fixture(scope="module")
def plain():
    return report_pdf(tank_run(), number="P1").content


@pytest.fixture(scope="module")
def signed(signer, plain):
    return signer.signed(plain)


def held(content, known=()):
    project = tank_run().project
    return verified(content, project, fingerprint(project.model_dump(mode="json")), [], known)


def test_the_signed_report_is_the_report_with_a_signature_after_it(plain, signed, tmp_path):
    assert signed.startswith(plain)
    file = tmp_path / "signed.pdf"
    file.write_bytes(signed)
    fields = pypdf.PdfReader(file).get_fields()
    assert list(fields) == ["Issue"]
    first, length, second, rest = fields["Issue"]["/V"]["/ByteRange"]
    assert first == 0
    assert second + rest == len(signed)
    assert length < second


def test_a_signature_is_whole_or_not(signer, plain, signed):
    assert signature_of(plain).state == "none"
    whole = signature_of(signed)
    assert (whole.state, whole.by) == ("whole", certificate_print(signer.certificate))
    assert signature_of(signed + b"% more\n").state == "broken"
    for at in (700, len(plain) // 2, len(plain) - 20, len(signed) - 60):
        changed = bytearray(signed)
        changed[at] ^= 1
        assert signature_of(bytes(changed)).state == "broken", at


def test_a_report_painted_over_is_told(signer, signed):
    writer = pypdf.PdfWriter(io.BytesIO(signed), incremental=True)
    writer.pages[0].rotate(180)
    painted = io.BytesIO()
    writer.write(painted)
    over = painted.getvalue()
    assert signature_of(over).state == "broken"
    found = held(over, signer.known)
    assert (found.state, found.said) == ("differs", "It was changed after it was signed.")


def test_only_a_key_that_is_known_proves_anything(signer, plain, signed, tmp_path):
    mine = held(signed, signer.known)
    assert (mine.state, mine.said) == ("issued", "It is issue P1, as it was signed. No record of it is kept here.")
    print_ = certificate_print(signer.certificate)[:16]
    assert mine.signed == f"It is signed with a certificate that is known here ({print_} …)."
    stranger = Signer(tmp_path / "other")
    theirs = held(stranger.signed(plain), signer.known)
    assert theirs.state == "not proven"
    assert "a certificate that is not known here" in theirs.signed
    assert held(plain, signer.known).signed == "It is not signed."
    assert held(plain, signer.known).state == "not proven"


def test_the_key_is_for_its_owner_alone_and_stays_the_same(signer, tmp_path):
    assert Signer(tmp_path / "none").known == frozenset()
    assert not (tmp_path / "none").exists()
    first = Signer(tmp_path / "one")
    kept = first.certificate
    (key,) = (tmp_path / "one").iterdir()
    assert stat.S_IMODE(key.stat().st_mode) == 0o600
    assert Signer(tmp_path / "one").certificate == kept
    assert Signer(tmp_path / "two").certificate != kept


def test_a_key_or_certificate_that_cannot_be_read_is_refused(tmp_path):
    (tmp_path / "key.p12").write_bytes(b"nothing")
    with pytest.raises(ModelError, match="cannot be read"):
        _ = Signer(tmp_path).certificate
    with pytest.raises(ModelError, match="is none"):
        certificate_print(b"nothing")
