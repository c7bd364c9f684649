"""
A mail program of another make: builds mails with Python's email package, hands them in with its smtplib, and later
compares what arrived with what was handed in, part by part.

    peers.py send PORT FOLDER       writes FOLDER/<case>.eml and hands each in; the case stands in the envelope address
    peers.py compare FOLDER         reads FOLDER/<case>.eml and FOLDER/<case>.arrived, prints a JSON object by case
"""
import json
import os
import smtplib
import ssl
import sys
from email import policy
from email.message import EmailMessage, MIMEPart
from email.parser import BytesParser

INES = 'ines@tallowreed.example'
SMTP = policy.SMTP.clone(cte_type='8bit')
PIXEL = bytes.fromhex('89504e470d0a1a0a0000000d49484452000000010000000108060000001f15c489')


def html(words='felt', link='https://tallowreed.example/felt?a=1&amp;b=2'):
    return (
        '<!DOCTYPE html>\n<html><head><title>x</title></head>\n<body class=a>\n'
        f'<p>See <a href="{link}">{words}</a>, <A HREF=\'https://x.example/\'>this</A> or '
        '<a href="mailto:ines@tallowreed.example">write</a>.</p>\n<!-- kept -->\n</body></html>\n'
    )


def begun(subject):
    mail = EmailMessage(policy=SMTP)
    mail['From'] = f'Ines Valdaro <{INES}>'
    mail['To'] = 'Marit Oakes <marit@lindqvist.example>'
    mail['Subject'] = subject
    mail['Date'] = 'Tue, 24 Nov 2026 10:00:00 +0100'
    mail['Message-ID'] = f'<{subject.split()[0]}@tallowreed.example>'
    mail['X-Odd'] = 'kept   as it  is'
    return mail


def text_only():
    mail = begun('plain')
    mail.set_content('Only words: grüße.\n')
    return mail.as_bytes()


def html_only(cte, charset, words):
    def build():
        mail = begun(f'html {cte} {charset}')
        mail.set_content(html(words), subtype='html', charset=charset, cte=cte)
        return mail.as_bytes()

    return build


def alternative():
    mail = begun('alternative')
    mail.set_content('Plain words with https://tallowreed.example/felt\n')
    mail.add_alternative(html(), subtype='html')
    return mail


def related():
    mail = alternative()
    mail.get_payload()[1].add_related(PIXEL * 40, 'image', 'png', cid='<pixel@tallowreed.example>')
    return mail.as_bytes()


def mixed():
    mail = alternative()
    mail.add_attachment(PIXEL * 400, 'application', 'pdf', filename='Angebot für März.pdf')
    mail.add_attachment(html(), subtype='html', filename='page.html')
    mail.add_attachment('BEGIN:VCALENDAR\r\nEND:VCALENDAR\r\n', subtype='calendar', params={'method': 'REQUEST'})
    return mail.as_bytes()


def nested():
    mail = alternative()
    inner = begun('inner')
    inner.set_content(html(), subtype='html')
    mail.add_attachment(inner)
    return mail.as_bytes()


def eight_bit():
    mail = begun('eight')
    mail.set_content(html('grüße aus 気楽'), subtype='html', charset='utf-8', cte='8bit')
    return mail.as_bytes()


def signed():
    mail = begun('signed')
    mail['Content-Type'] = 'multipart/signed; protocol="application/pgp-signature"; micalg="pgp-sha256"; boundary="sig"'
    body = MIMEPart(policy=SMTP)
    body.set_content(html(), subtype='html')
    return (
        mail.as_bytes().rstrip(b'\r\n')
        + b'\r\n\r\n--sig\r\n'
        + body.as_bytes()
        + b'\r\n--sig\r\nContent-Type: application/pgp-signature\r\n\r\n-----BEGIN PGP SIGNATURE-----\r\n\r\n--sig--\r\n'
    )


def odd():
    """Folded and unquoted parameters, a preamble and an epilogue, a boundary that another begins with, long lines."""
    page = html().replace('\n', '\r\n').encode()
    return b'\r\n'.join(
        [
            b'From: ' + INES.encode(),
            b'To: undisclosed-recipients:;',
            b'Message-ID: <odd@tallowreed.example>',
            b'Date: Tue, 24 Nov 2026 10:00:00 +0100',
            b'Subject: =?iso-8859-1?q?Gr=FC=DFe?=',
            b'Content-Type: multipart/mixed;\r\n\tboundary="=_a"',
            b'',
            b'A preamble.',
            b'--=_a',
            b'content-type: multipart/alternative; boundary="=_ab"',
            b'',
            b'--=_ab',
            b'Content-Type: TEXT/HTML;\r\n  CHARSET="windows-1252"',
            b'',
            page + b'y' * 900 + b'\x80',
            b'--=_ab--',
            b'An epilogue.',
            b'--=_a',
            b'Content-Type: application/octet-stream',
            b'Content-Transfer-Encoding: binary',
            b'',
            bytes(range(32, 256)) * 3,
            b'--=_a--',
            b'',
            b'The end.',
            b'',
        ]
    )


def large():
    mail = alternative()
    mail.add_attachment(os.urandom(25 * 1024 * 1024), 'application', 'octet-stream', filename='large.bin')
    return mail.as_bytes()


CASES = {
    'plain': text_only,
    'quoted-printable': html_only('quoted-printable', 'utf-8', 'grüße aus 気楽 = gut'),
    'base64': html_only('base64', 'utf-8', 'grüße aus 気楽'),
    'seven-bit': html_only('7bit', 'us-ascii', 'felt'),
    'windows-1252': html_only('quoted-printable', 'windows-1252', 'grüße – “felt”'),
    # In ISO-2022-JP, octets between its escapes look like the signs of HTML.
    'iso-2022-jp': html_only('7bit', 'iso-2022-jp', '気楽なアコースティックフェルト、表、噂'),
    'shift-jis': html_only('base64', 'shift_jis', 'ソフト表示能力'),
    'alternative': lambda: alternative().as_bytes(),
    'related': related,
    'mixed': mixed,
    'nested': nested,
    'eight-bit': eight_bit,
    'signed': signed,
    'odd': odd,
    'large': large,
}


def send(port, folder):
    context = ssl.create_default_context()
    context.check_hostname = False
    context.verify_mode = ssl.CERT_NONE
    with smtplib.SMTP('127.0.0.1', port) as program:
        program.starttls(context=context)
        program.login(INES, os.environ['APP_PASSWORD'])
        for case, build in CASES.items():
            raw = build()
            with open(f'{folder}/{case}.eml', 'wb') as file:
                file.write(raw)
            program.sendmail(INES, [f'{case}@lindqvist.example'], raw, ['BODY=8BITMIME'])


def leaves(part, path=''):
    yield path, part
    if part.is_multipart() and part.get_content_type() != 'message/rfc822':
        for number, child in enumerate(part.get_payload()):
            yield from leaves(child, f'{path}.{number}')


def read(path):
    with open(path, 'rb') as file:
        return BytesParser(policy=policy.compat32).parse(file)


def octets(part):
    if part.is_multipart():
        return [part.preamble, part.epilogue, [child.as_bytes() for child in part.get_payload()]
                if part.get_content_type() == 'message/rfc822' else None]
    return part.get_payload()


def compare(folder):
    outcome = {}
    for case in CASES:
        before, after = read(f'{folder}/{case}.eml'), read(f'{folder}/{case}.arrived')
        old, new = list(leaves(before)), list(leaves(after))
        found = {'structure': [path for path, _ in old] == [path for path, _ in new], 'changed': [], 'html': []}
        for (path, one), (_, other) in zip(old, new):
            if one.items() != other.items():
                found['changed'].append(f'header {path}')
            if octets(one) == octets(other):
                continue
            if one.get_content_type() == 'text/html':
                found['html'].append([str(one.get_payload(decode=True), 'latin1'), str(other.get_payload(decode=True), 'latin1')])
            else:
                found['changed'].append(f'body {path} {one.get_content_type()}')
        outcome[case] = found
    print(json.dumps(outcome))


if sys.argv[1] == 'send':
    send(int(sys.argv[2]), sys.argv[3])
else:
    compare(sys.argv[2])
