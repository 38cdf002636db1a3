"""Labels of passwords and accounts in the languages of which the other detectors know no more."""

from __future__ import annotations

from sealpacket.core.redact.detectors.base import Detector
from sealpacket.core.redact.detectors.credentials import is_secret
from sealpacket.core.redact.detectors.people import USER, is_user

_PASSWORDS = (
    "пароль", "секрет", "ключ доступа", "гасло", "лозинка", "парола", "κωδικός πρόσβασης", "συνθηματικό", "סיסמה", "كلمة المرور",
    "密码", "密碼", "口令", "パスワード", "暗証番号", "비밀번호", "암호", "รหัสผ่าน", "mật khẩu", "hasło", "haslo", "heslo", "jelszó", "jelszo",
    "geslo", "lozinka", "zaporka", "parolă", "parola", "şifre", "sifre", "parole", "slaptažodis", "parool", "salasana", "lösenord",
    "losenord", "adgangskode", "kodeord", "passord", "palavra-passe", "palavra-chave", "clave", "contrasenya", "pasahitza", "lykilorð",
    "kata sandi", "password di",
)  # fmt: skip
_USERS = (
    "пользователь", "имя пользователя", "логин", "користувач", "потребител", "χρήστης", "用户名", "用户", "使用者", "ユーザー名", "ユーザー",
    "사용자", "użytkownik", "uzytkownik", "uživatel", "uzivatel", "felhasználó", "uporabnik", "korisnik", "utilizator", "kullanıcı",
    "kullanici", "vartotojas", "kasutaja", "käyttäjä", "kayttaja", "användare", "bruger", "bruker", "utilizador", "usuari", "notandi",
)  # fmt: skip
_GIVES = rb"[\"']?[ \t]*(?:[=:]|\xef\xbc\x9a)[ \t]*[\"']?"


def _any_of(words: tuple[str, ...]) -> bytes:
    """Any of the words, in small letters, with a capital, or in capitals; the search folds letters of ASCII only."""
    forms = {form for word in words for form in (word, word.capitalize(), word.upper())}
    return b"(?:" + b"|".join(form.encode() for form in sorted(forms, key=lambda form: (-len(form), form))) + b")"


_SECRET = _any_of(_PASSWORDS)
_SOMEONE = _any_of(_USERS)

LANGUAGES = (
    Detector(
        "secret", "secret with a label in another language", _SECRET + _GIVES + rb"([^\s\"',;<>]+)",
        (_SECRET + rb"[\"']?[ \t]*(?:[=:]|\xef\xbc\x9a)",), is_secret,
    ),
    Detector(
        "user", "user with a label in another language", _SOMEONE + _GIVES + USER,
        (_SOMEONE + rb"[\"']?[ \t]*(?:[=:]|\xef\xbc\x9a)",), is_user, bytes.lower,
    ),
)  # fmt: skip
