//! Contacts as vCard 3.0 (RFC 2426), which address books of every kind read.

use bright_row_core::AccountId;

/// Somebody to put into an address book.
#[derive(Clone, Debug, PartialEq, Eq)]
pub struct Contact {
    /// Who: the same one again is not one more.
    pub id: AccountId,
    /// As it is shown.
    pub name: String,
    /// The e-mail address.
    pub email: String,
    /// What they are to the organisation.
    pub role: String,
}

/// So many bytes a line has at most (RFC 2426, 2.6).
const LONGEST_LINE: usize = 75;

/// The contacts of an organisation.
#[must_use]
pub fn write(organisation: &str, contacts: &[Contact]) -> Vec<u8> {
    let mut text = String::new();
    for Contact { id, name, email, role } in contacts {
        let name = escaped(name);
        let lines = [
            "BEGIN:VCARD".to_owned(),
            "VERSION:3.0".to_owned(),
            "PRODID:-//Bright Row//EN".to_owned(),
            format!("UID:urn:uuid:{id}"),
            format!("FN:{name}"),
            // Which part of a name is the family's differs by language: the whole stands where the given name does.
            format!("N:;{name};;;"),
            format!("EMAIL;TYPE=INTERNET:{}", escaped(email)),
            format!("ORG:{}", escaped(organisation)),
            format!("ROLE:{}", escaped(role)),
            "END:VCARD".to_owned(),
        ];
        for line in lines {
            fold(&line, &mut text);
        }
    }
    text.into_bytes()
}

/// A text as a value: commas, semicolons, backslashes and line breaks mean nothing in it; other control characters are left out.
fn escaped(text: &str) -> String {
    let mut escaped = String::new();
    for letter in text.chars() {
        match letter {
            '\\' | ',' | ';' => escaped.extend(['\\', letter]),
            '\n' => escaped.push_str("\\n"),
            letter if letter.is_control() => {}
            letter => escaped.push(letter),
        }
    }
    escaped
}

/// Adds a line; what is too long goes on after a space on the next, and no letter is cut in two.
fn fold(line: &str, text: &mut String) {
    let mut bytes = 0;
    for letter in line.chars() {
        if bytes + letter.len_utf8() > LONGEST_LINE {
            text.push_str("\r\n ");
            bytes = 1;
        }
        text.push(letter);
        bytes += letter.len_utf8();
    }
    text.push_str("\r\n");
}

#[cfg(test)]
mod tests {
    use proptest::prelude::*;

    use super::*;

    #[test]
    fn a_contact_is_a_card() {
        let contact = Contact {
            id: AccountId::nobody(),
            name: "Zoë Müller, Dr.".to_owned(),
            email: "zoe@school.example".to_owned(),
            role: "director".to_owned(),
        };
        insta::assert_snapshot!(String::from_utf8(write("Kestrel; Hill School", &[contact])).expect("text").replace("\r\n", "\n"), @r"
        BEGIN:VCARD
        VERSION:3.0
        PRODID:-//Bright Row//EN
        UID:urn:uuid:00000000-0000-0000-0000-000000000000
        FN:Zoë Müller\, Dr.
        N:;Zoë Müller\, Dr.;;;
        EMAIL;TYPE=INTERNET:zoe@school.example
        ORG:Kestrel\; Hill School
        ROLE:director
        END:VCARD
        ");
    }

    proptest! {
        #[test]
        fn whatever_a_name_is_the_card_has_ten_short_lines_and_the_name_comes_back(name in any::<String>()) {
            let contact = Contact { id: AccountId::nobody(), name: name.clone(), email: String::new(), role: String::new() };
            let text = String::from_utf8(write("School", &[contact])).expect("text");
            prop_assert!(text.split("\r\n").all(|line| line.len() <= LONGEST_LINE));
            let whole = text.replace("\r\n ", "");
            let lines: Vec<&str> = whole.split_terminator("\r\n").collect();
            prop_assert_eq!(lines.len(), 10);
            let said = lines[4].strip_prefix("FN:").expect("a name");
            let mut letters = said.chars();
            let mut back = String::new();
            while let Some(letter) = letters.next() {
                back.push(match letter {
                    '\\' => match letters.next().expect("something is escaped") { 'n' => '\n', other => other },
                    letter => letter,
                });
            }
            let kept: String = name.chars().filter(|letter| *letter == '\n' || !letter.is_control()).collect();
            prop_assert_eq!(back, kept);
        }
    }
}
