"""Headings that class lists and lists of outcomes have, in a dozen languages.

A word stands here as `plain` gives it: small letters, no accents, letters and digits only.
"""

from __future__ import annotations

import unicodedata
from collections.abc import Mapping

Words = Mapping[str, tuple[str, ...]]


def plain(heading: str) -> str:
    """Give a heading as it is compared: without capitals, accents, spaces and signs."""
    folded = unicodedata.normalize("NFKD", heading).casefold().replace("ı", "i")
    return "".join(character for character in folded if character.isalnum())


def _words(text: str) -> tuple[str, ...]:
    return tuple(text.split())


# A field's words in the order in which they are preferred; English first, then German, French,
# Spanish, Portuguese, Italian, Dutch, Swedish, Norwegian and Danish, Finnish, Polish, Turkish,
# Greek, Russian, Arabic.
_GIVEN = _words(
    """givenname givennames firstname firstnames forename forenames given first
    vorname vornamen rufname prenom prenoms nombre nombres primernombre nomeproprio
    primeironome nomedibattesimo nome voornaam voornamen roepnaam fornamn tilltalsnamn fornavn
    etunimi etunimet kutsumanimi imie imiona adi ad ονομα имя الاسمالاول الاسم"""
)
_FAMILY = _words(
    """familyname surname lastname family last nachname familienname zuname nomdefamille nom
    apellido apellidos sobrenome apelido cognome achternaam efternamn etternavn efternavn
    sukunimi nazwisko soyadi soyad επωνυμο фамилия اسمالعائلة اللقب"""
)
# "Nachname, Vorname" over one column says that it holds both.
_BOTH = tuple(
    both for given in _GIVEN for family in _FAMILY for both in (given + family, family + given)
)
STUDENTS: Words = {
    "given_name": _GIVEN,
    "family_name": _FAMILY,
    "name": (
        *_words(
            """name fullname student studentname pupil pupilname learner firstandlastname
            firstlastname schuler schulerin schulername vorundnachname eleve nometprenom nomcomplet
            alumno alumna nombrecompleto nombreyapellidos aluno aluna nomecompleto alunno alunna
            nomeecognome leerling naam elev namn navn oppilas nimi uczen imieinazwisko ogrenci
            adsoyad adisoyadi ονοματεπωνυμο фио ученик الاسمالكامل الطالب"""
        ),
        *_BOTH,
    ),
    "identifier": _words(
        """identifier id studentid studentnumber number schoolid admissionnumber no
        matrikel matrikelnummer matrikelnr schulernummer schulernr nummer nr matricule numero
        matricula expediente matricola leerlingnummer elevnummer elevnr oppilasnumero
        numerlegitymacji numer ogrencino numara αριθμοςμητρωου αριθμος номер الرقم رقمالطالب"""
    ),
    "email": _words(
        """email mail emailaddress adressemail courriel correo correoelectronico
        correioeletronico postaelettronica mailadresse emailadresse epost epostadress epostadresse
        sahkoposti eposta ηλεκτρονικοταχυδρομειο почта электроннаяпочта البريدالالكتروني"""
    ),
}
OUTCOMES: Words = {
    "code": _words(
        """code outcomecode identifier id number kurzel kode codigo codice kod koodi nummer nr
        numero numer κωδικος код الرمز"""
    ),
    "title": _words(
        """title outcome statement name shorttitle learningoutcome titel lernziel kompetenz
        titre objectif competence titulo objetivo titolo obiettivo leerdoel larandemal mal
        tittel laeringsmal otsikko tavoite tytul cel baslik kazanim τιτλος στοχος название цель
        العنوان الهدف"""
    ),
    "description": _words(
        """description details fullstatement notes beschreibung descripcion descricao
        descrizione beschrijving beskrivning beskrivelse kuvaus opis aciklama περιγραφη описание
        الوصف"""
    ),
    "strand": _words(
        """strand group area domain topic bereich lernbereich themenbereich domaine ambito
        bloque dominio area leergebied domein omrade emne osaalue dzial alan ενοτητα раздел
        المجال"""
    ),
}
