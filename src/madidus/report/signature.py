"""Signatures of issued reports (PDF signatures, ETSI EN 319 142-1) by a key of the installation."""

import io
import os
from contextlib import suppress
from dataclasses import dataclass
from datetime import UTC, datetime, timedelta
from functools import cached_property
from pathlib import Path
from typing import Any, Literal

from cryptography import x509
from cryptography.hazmat.primitives import hashes, serialization
from cryptography.hazmat.primitives.asymmetric import ec
from cryptography.hazmat.primitives.serialization import pkcs12
from cryptography.x509.oid import NameOID
from pyhanko.pdf_utils.incremental_writer import IncrementalPdfFileWriter
from pyhanko.pdf_utils.misc import PdfError
from pyhanko.pdf_utils.reader import PdfFileReader
from pyhanko.sign import fields, signers
from pyhanko.sign.validation import SignatureCoverageLevel, validate_pdf_signature
from pyhanko_certvalidator import ValidationContext

from ..core.errors import ModelError

__all__ = ["Signature", "Signer", "certificate_print", "signature_of"]

_YEARS = 20
_KEY = "key.p12"


class Signer:
    """The key of this installation, made when it is first asked for. folder : where it is kept, for its owner alone."""

    def __init__(self, folder: Path):
        self._folder = folder

    @cached_property
    def _signer(self) -> signers.SimpleSigner:
        if not self._file.exists():
            self._make(self._file)
        try:
            found: signers.SimpleSigner | None = signers.SimpleSigner.load_pkcs12_data(self._file.read_bytes(), [])
        except ValueError:
            found = None
        if found is None:
            raise ModelError("signature", _KEY, "cannot be read", "move it away: a new key is made then")
        return found

    @property
    def _file(self) -> Path:
        return self._folder / _KEY

    def _make(self, file: Path) -> None:
        self._folder.mkdir(parents=True, exist_ok=True)
        key = ec.generate_private_key(ec.SECP256R1())
        name = x509.Name([x509.NameAttribute(NameOID.COMMON_NAME, "Madidus, issued reports of one installation")])
        now = datetime.now(UTC)
        certificate = (
            x509.CertificateBuilder().subject_name(name).issuer_name(name).public_key(key.public_key())
            .serial_number(x509.random_serial_number())
            .not_valid_before(now - timedelta(days=1)).not_valid_after(now + timedelta(days=365 * _YEARS))
            .add_extension(x509.BasicConstraints(ca=False, path_length=None), critical=True)
            .add_extension(
                x509.KeyUsage(
                    digital_signature=True, content_commitment=True, key_encipherment=False, data_encipherment=False,
                    key_agreement=False, key_cert_sign=False, crl_sign=False, encipher_only=False, decipher_only=False,
                ),
                critical=True,
            )
            .sign(key, hashes.SHA256())
        )  # fmt: skip
        whole = pkcs12.serialize_key_and_certificates(b"madidus", key, certificate, None, serialization.NoEncryption())
        draft = file.with_suffix(f".{os.getpid()}")
        with os.fdopen(os.open(draft, os.O_WRONLY | os.O_CREAT | os.O_TRUNC, 0o600), "wb") as out:
            out.write(whole)
        with suppress(FileExistsError):  # somebody was quicker: theirs is the key
            os.link(draft, file)
        draft.unlink()

    @property
    def certificate(self) -> bytes:
        """The certificate as PEM: whoever has it can tell our signatures."""
        own: Any = self._signer.signing_cert
        return x509.load_der_x509_certificate(own.dump()).public_bytes(serialization.Encoding.PEM)

    @property
    def known(self) -> frozenset[str]:
        """SHA-256 of its certificate; nothing as long as nothing was signed."""
        return frozenset({certificate_print(self.certificate)} if self._file.exists() else ())

    def signed(self, content: bytes) -> bytes:
        """A PDF with a signature that covers all of it and forbids changes; its own bytes stand before it unchanged."""
        metadata = signers.PdfSignatureMetadata(
            field_name="Issue", md_algorithm="sha256", certify=True, docmdp_permissions=fields.MDPPerm.NO_CHANGES,
            subfilter=fields.SigSeedSubFilter.PADES, name="Madidus",
        )  # fmt: skip
        out = signers.sign_pdf(IncrementalPdfFileWriter(io.BytesIO(content)), metadata, signer=self._signer)
        return bytes(out.getvalue())


@dataclass(frozen=True)
class Signature:
    """state 'none': there is none; 'whole': it fits, and covers all of the file; 'broken': what it covers was changed,
    or something was added after it. by : SHA-256 of its certificate; empty where that cannot be read.
    """

    state: Literal["none", "whole", "broken"]
    by: str


def signature_of(content: bytes) -> Signature:
    """The first signature of a PDF. Whose it is, is told by its certificate alone: nothing is asked of anybody."""
    try:
        found = PdfFileReader(io.BytesIO(content), strict=False).embedded_signatures
        if not found:
            return Signature("none", "")
        by = found[0].signer_cert
        status = validate_pdf_signature(found[0], ValidationContext(trust_roots=[by], allow_fetching=False))
    except (PdfError, ValueError, KeyError, TypeError, IndexError, OSError):
        # a file that was damaged where its signature stands
        return Signature("broken" if b"/ByteRange" in content else "none", "")
    whole = status.intact and status.valid and status.coverage == SignatureCoverageLevel.ENTIRE_FILE
    return Signature("whole" if whole and len(found) == 1 else "broken", by.sha256.hex())


def certificate_print(pem: bytes) -> str:
    """SHA-256 of a certificate.

    Raises
    ------
    ModelError
        When it is none.
    """
    try:
        return x509.load_pem_x509_certificate(pem).fingerprint(hashes.SHA256()).hex()
    except ValueError as error:
        raise ModelError(
            "certificate", "its text", "is none", "choose the certificate.pem of the installation that issued"
        ) from error
