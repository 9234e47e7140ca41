"""Canonical JSON and its hash, against what the standards print."""

import hashlib
import struct

import pytest
from hypothesis import given
from hypothesis import strategies as st

from honest_edge.core.values.errors import UsageError
from honest_edge.files.runs.canonical import canonical


@pytest.mark.parametrize(
    ("bits", "written"),
    [
        ("0000000000000000", "0"),
        ("8000000000000000", "0"),
        ("0000000000000001", "5e-324"),
        ("7fefffffffffffff", "1.7976931348623157e+308"),
        ("4340000000000000", "9007199254740992"),
        ("44b52d02c7e14af5", "9.999999999999997e+22"),
        ("44b52d02c7e14af6", "1e+23"),
        ("444b1ae4d6e2ef4e", "999999999999999700000"),
        ("444b1ae4d6e2ef50", "1e+21"),
        ("3eb0c6f7a0b5ed8c", "9.999999999999997e-7"),
        ("3eb0c6f7a0b5ed8d", "0.000001"),
        ("41b3de4355555553", "333333333.3333332"),
        ("becbf647612f3696", "-0.0000033333333333333333"),
        ("43143ff3c1cb0959", "1424953923781206.2"),
    ],
)
def test_numbers_are_those_of_rfc_8785_appendix_b(bits, written):
    (value,) = struct.unpack(">d", bytes.fromhex(bits))
    assert canonical(value).decode() == written


def test_the_example_of_rfc_8785_3_2_2():
    value = {
        "numbers": [333333333.33333329, 1e30, 4.50, 2e-3, 0.000000000000000000000000001],
        "string": '\u20ac$\u000f\nA\'B"\\\\"/',
        "literals": [None, True, False],
    }
    expected = (
        '{"literals":[null,true,false],"numbers":[333333333.3333333,1e+30,4.5,0.002,1e-27],'
        '"string":"€$\\u000f\\nA\'B\\"\\\\\\\\\\"/"}'
    )
    assert canonical(value) == expected.encode()


def test_keys_are_sorted_by_utf_16_units():
    """RFC 8785 3.2.3: a letter beyond the first plane sorts before U+FB33."""
    assert canonical({"\ufb33": 1, "\U0001f600": 2, "\u0080": 3, "1": 4, "\r": 5}).decode() == (
        '{"\\r":5,"1":4,"\u0080":3,"\U0001f600":2,"\ufb33":1}'
    )


@pytest.mark.parametrize(
    ("text", "digest"),
    [
        (b"abc", "ba7816bf8f01cfea414140de5dae2223b00361a396177a9cb410ff61f20015ad"),
        (b"", "e3b0c44298fc1c149afbf4c8996fb92427ae41e4649b934ca495991b7852b855"),
        (
            b"abcdbcdecdefdefgefghfghighijhijkijkljklmklmnlmnomnopnopq",
            "248d6a61d20638b8e5c026930c3e6039a33ce45964ff2167f6ecedd419db06c1",
        ),
    ],
)
def test_the_hash_is_that_of_fips_180_4(text, digest):
    """NIST's example values for SHA-256."""
    assert hashlib.sha256(text).hexdigest() == digest


@given(st.floats(allow_nan=False, allow_infinity=False))
def test_every_number_means_itself(value):
    assert float(canonical(value)) == value


@pytest.mark.parametrize("value", [float("nan"), float("inf"), object()])
def test_what_json_does_not_have_is_refused(value):
    with pytest.raises(UsageError):
        canonical({"a": value})
