//! In which letters a text file is written, where the file does not say so itself.

use chardetng::{EncodingDetector, Iso2022JpDetection, Utf8Detection};
use encoding_rs::{
    BIG5, EUC_KR, Encoding, GBK, MACINTOSH, SHIFT_JIS, UTF_8, UTF_16BE, UTF_16LE, WINDOWS_1250, WINDOWS_1251,
    WINDOWS_1252, WINDOWS_1253, WINDOWS_1254, WINDOWS_1255, WINDOWS_1256, WINDOWS_1257, WINDOWS_1258,
};

/// A way of writing letters as bytes.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub enum Letters {
    /// Every script there is.
    Utf8,
    /// The same, two bytes at a time.
    Utf16,
    /// UTF-8 that a program took for Western European and saved as UTF-8 once more.
    Twice,
    /// One byte a letter, as Windows has it.
    Windows(Script),
    /// Western European as older Macs have it.
    Mac,
    /// Shift JIS.
    Japanese,
    /// EUC-KR.
    Korean,
    /// GBK.
    SimplifiedChinese,
    /// Big5.
    TraditionalChinese,
}

/// A script, or a region whose languages share their letters.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub enum Script {
    /// Windows-1252.
    Western,
    /// Windows-1250.
    Central,
    /// Windows-1251.
    Cyrillic,
    /// Windows-1253.
    Greek,
    /// Windows-1254.
    Turkish,
    /// Windows-1255.
    Hebrew,
    /// Windows-1256.
    Arabic,
    /// Windows-1257.
    Baltic,
    /// Windows-1258.
    Vietnamese,
}

/// Every way with the word by which it is sent and asked for, and how its bytes are read.
const WAYS: [(Letters, &str, &Encoding); 17] = [
    (Letters::Utf8, "utf8", UTF_8),
    (Letters::Utf16, "utf16", UTF_16LE),
    (Letters::Twice, "twice", UTF_8),
    (Letters::Windows(Script::Western), "western", WINDOWS_1252),
    (Letters::Windows(Script::Central), "central", WINDOWS_1250),
    (Letters::Windows(Script::Cyrillic), "cyrillic", WINDOWS_1251),
    (Letters::Windows(Script::Greek), "greek", WINDOWS_1253),
    (Letters::Windows(Script::Turkish), "turkish", WINDOWS_1254),
    (Letters::Windows(Script::Hebrew), "hebrew", WINDOWS_1255),
    (Letters::Windows(Script::Arabic), "arabic", WINDOWS_1256),
    (Letters::Windows(Script::Baltic), "baltic", WINDOWS_1257),
    (Letters::Windows(Script::Vietnamese), "vietnamese", WINDOWS_1258),
    (Letters::Mac, "mac", MACINTOSH),
    (Letters::Japanese, "japanese", SHIFT_JIS),
    (Letters::Korean, "korean", EUC_KR),
    (Letters::SimplifiedChinese, "simplifiedChinese", GBK),
    (Letters::TraditionalChinese, "traditionalChinese", BIG5),
];

impl Letters {
    /// The word by which it is sent and asked for.
    #[must_use]
    pub fn word(self) -> &'static str {
        WAYS.iter().find(|(way, ..)| *way == self).map_or("utf8", |(_, word, _)| *word)
    }

    /// The way of a word.
    #[must_use]
    pub fn parse(word: &str) -> Option<Self> {
        WAYS.iter().find(|(_, known, _)| *known == word).map(|(way, ..)| *way)
    }

    /// The text of bytes written so; `None` where they cannot be.
    pub(crate) fn text(self, bytes: &[u8]) -> Option<String> {
        let (.., encoding) = WAYS.iter().find(|(way, ..)| *way == self)?;
        let (text, amiss) = encoding.decode_without_bom_handling(bytes);
        if amiss {
            return None;
        }
        if self != Self::Twice {
            return Some(text.into_owned());
        }
        let (once, _, amiss) = WINDOWS_1252.encode(&text);
        let once = String::from_utf8(once.into_owned()).ok()?;
        (!amiss && once != text).then_some(once)
    }
}

/// A text as it was read.
#[derive(Clone, Debug, PartialEq, Eq)]
pub struct Written {
    /// What it says.
    pub text: String,
    /// How it was read.
    pub letters: Letters,
    /// The file does not say how it is written, and it makes a difference: somebody who knows the names should look.
    pub doubtful: bool,
    /// Some of its words that say how, and the same words in every other way that could be; empty where nothing is doubtful.
    pub samples: Vec<(Letters, String)>,
}

/// Reads a text: as its first bytes say, as `asked`, or as it most likely is. `None` for what is no text.
#[must_use]
pub fn read(bytes: &[u8], asked: Option<Letters>) -> Option<Written> {
    if let Some(text) = said(bytes) {
        return Some(Written { text, letters: Letters::Utf16, doubtful: false, samples: Vec::new() }).map(|read| {
            if bytes.starts_with(b"\xef\xbb\xbf") { Written { letters: Letters::Utf8, ..read } } else { read }
        });
    }
    if bytes.contains(&0) {
        return None;
    }
    let telling = telling(bytes);
    let likely = likely(bytes, &telling);
    let ways = || WAYS.iter().map(|(way, ..)| *way).filter(|way| *way != Letters::Utf16);
    let letters = asked.filter(|way| way.text(bytes).is_some()).unwrap_or(likely);
    // Bytes that are nothing else are Western European: there every byte is some letter.
    let text = letters.text(bytes).unwrap_or_else(|| WINDOWS_1252.decode_without_bom_handling(bytes).0.into_owned());
    let doubtful = !bytes.is_ascii() && likely != Letters::Utf8;
    let mut samples: Vec<(Letters, String)> = Vec::new();
    if doubtful {
        let first = [letters].into_iter().chain(ways().filter(|way| *way != letters));
        for (way, sample) in first.filter_map(|way| Some((way, sample(&way.text(&telling)?)))) {
            // Ways that read the same words are one. The way taken stands there whatever it makes of them.
            let adds = samples.iter().all(|(_, known)| *known != sample) && !sample.contains(is_private);
            if way == letters || adds {
                samples.push((way, sample));
            }
        }
    }
    Some(Written { text, letters, doubtful, samples })
}

/// How a file that is read piece by piece is written, by its first bytes: how they are read, and whether every text in it was saved
/// twice ([`Letters::Twice`]).
pub(crate) fn of_head(head: &[u8]) -> (&'static Encoding, bool) {
    if let Some((encoding, _)) = said_encoding(head) {
        return (encoding, false);
    }
    let telling = telling(head);
    let likely = likely(&telling, &telling);
    let encoding = WAYS.iter().find(|(way, ..)| *way == likely).map_or(UTF_8, |(.., encoding)| *encoding);
    (encoding, likely == Letters::Twice)
}

/// The text of a file that says how it is written.
fn said(bytes: &[u8]) -> Option<String> {
    let (encoding, mark) = said_encoding(bytes)?;
    Some(encoding.decode_without_bom_handling(&bytes[mark..]).0.into_owned())
}

/// What a file says of how it is written, by its first bytes or by the zeros of UTF-16, and how many bytes that takes.
fn said_encoding(bytes: &[u8]) -> Option<(&'static Encoding, usize)> {
    if let Some(said) = Encoding::for_bom(bytes) {
        return Some(said);
    }
    let head = &bytes[..bytes.len().min(64)];
    let zeros = |odd: usize| head.iter().skip(odd).step_by(2).filter(|byte| **byte == 0).count();
    if head.len() < 4 {
        return None;
    }
    if zeros(1) * 4 > head.len() {
        Some((UTF_16LE, 0))
    } else if zeros(0) * 4 > head.len() {
        Some((UTF_16BE, 0))
    } else {
        None
    }
}

/// So many bytes say how a file is written.
const TELLING: usize = 64 * 1024;

/// The first lines with bytes that are no plain Latin letters: the others say nothing of how a file is written.
fn telling(bytes: &[u8]) -> Vec<u8> {
    let mut telling = Vec::new();
    for line in bytes.split_inclusive(|byte| *byte == b'\n').filter(|line| !line.is_ascii()) {
        telling.extend_from_slice(line);
        if telling.len() > TELLING {
            telling.truncate(TELLING);
            // A letter of several bytes is not cut in two.
            let end = telling.iter().rposition(u8::is_ascii).unwrap_or_default();
            telling.truncate(end);
            break;
        }
    }
    telling
}

/// How bytes are most likely written.
fn likely(bytes: &[u8], telling: &[u8]) -> Letters {
    if Letters::Twice.text(telling).is_some() && Letters::Twice.text(bytes).is_some() {
        return Letters::Twice;
    }
    if std::str::from_utf8(bytes).is_ok() {
        return Letters::Utf8;
    }
    let mut detector = EncodingDetector::new(Iso2022JpDetection::Deny);
    detector.feed(telling, true);
    let guess = detector.guess(None, Utf8Detection::Deny);
    let known = WAYS.iter().find(|(way, _, encoding)| *encoding == guess && way.text(bytes).is_some());
    known.map_or(Letters::Windows(Script::Western), |(way, ..)| *way)
}

/// Letters that nobody's name has: they come out where the way is another one.
fn is_private(letter: char) -> bool {
    matches!(letter, '\u{e000}'..='\u{f8ff}' | '\u{fffd}')
}

/// So many characters of a file say how it is written.
const SAMPLE: usize = 60;

/// The first words with letters that are no plain Latin ones.
fn sample(text: &str) -> String {
    let divides = |letter: char| matches!(letter, ',' | ';' | '\t' | '|' | '"' | '\n' | '\r');
    let words = text.split(divides).map(str::trim).filter(|word| !word.is_ascii());
    let words: Vec<&str> = words.take(4).collect();
    words.join(", ").chars().filter(|letter| !letter.is_control()).take(SAMPLE).collect()
}

#[cfg(test)]
mod tests {
    use proptest::prelude::*;

    use super::*;

    fn written(text: &str, way: &'static Encoding) -> Vec<u8> {
        way.encode(text).0.into_owned()
    }

    #[test]
    fn what_does_not_say_how_it_is_written_is_guessed_and_doubtful() {
        for (text, way, letters) in [
            ("Name;Instrument\nZoë Müller;viola\nAnaïs Forêt;cello\n", WINDOWS_1252, Letters::Windows(Script::Western)),
            ("Имя;Инструмент\nЖанна Рощина;скрипка\nМарья;альт\n", WINDOWS_1251, Letters::Windows(Script::Cyrillic)),
            ("Όνομα;Όργανο\nΑθηνά Ξένου;βιολί\nΓιώργος;βιόλα\n", WINDOWS_1253, Letters::Windows(Script::Greek)),
            ("名前;楽器\n佐藤 美咲;ヴァイオリン\n山田 さくら;チェロ\n", SHIFT_JIS, Letters::Japanese),
        ] {
            let read = read(&written(text, way), None).expect("a text");
            assert_eq!((read.text.as_str(), read.letters, read.doubtful), (text, letters, true));
            assert_eq!(read.samples.first().map(|(way, _)| *way), Some(letters));
        }
    }

    #[test]
    fn utf_8_is_sure_and_utf_8_that_was_saved_twice_is_mended_and_doubtful() {
        let text = "Name\nZoë\nNguyễn\n";
        let once = read(text.as_bytes(), None).expect("a text");
        assert_eq!((once.text.as_str(), once.letters, once.doubtful), (text, Letters::Utf8, false));
        let twice = WINDOWS_1252.decode_without_bom_handling("Name\nZoë\nÉmile\n".as_bytes()).0.into_owned();
        let mended = read(twice.as_bytes(), None).expect("a text");
        assert_eq!(
            (mended.text.as_str(), mended.letters, mended.doubtful),
            ("Name\nZoë\nÉmile\n", Letters::Twice, true)
        );
        let as_it_is = read(twice.as_bytes(), Some(Letters::Utf8)).expect("a text");
        assert_eq!(as_it_is.text, twice);
    }

    #[test]
    fn somebody_who_knows_the_names_says_how_they_are_written() {
        let bytes = written("Name\nŠárka\nŁukasz\n", WINDOWS_1250);
        let asked = read(&bytes, Some(Letters::Windows(Script::Central))).expect("a text");
        assert_eq!(asked.text, "Name\nŠárka\nŁukasz\n");
        assert_eq!(asked.samples[0], (Letters::Windows(Script::Central), "Šárka, Łukasz".to_owned()));
        assert!(asked.samples.len() > 3);
        // Also where it makes letters of the words that nobody has.
        let odd = read(&bytes, Some(Letters::SimplifiedChinese)).expect("a text");
        assert_eq!(odd.samples[0].0, Letters::SimplifiedChinese);
    }

    proptest! {
        #[test]
        fn any_bytes_are_a_text_or_none(bytes in proptest::collection::vec(any::<u8>(), 0..200), way in 0..WAYS.len()) {
            let (letters, word, _) = WAYS[way];
            prop_assert_eq!(Letters::parse(word), Some(letters));
            if let Some(read) = read(&bytes, Some(letters)) {
                prop_assert!(read.samples.iter().all(|(_, sample)| sample.chars().count() <= SAMPLE));
                prop_assert!(read.doubtful || read.samples.is_empty());
            }
        }
    }
}
