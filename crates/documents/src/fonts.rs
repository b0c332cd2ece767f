//! The fonts that go into a PDF: our own, and behind it Noto Sans for letters that ours does not have.

use std::sync::{Arc, LazyLock};

use ttf_parser::Face;
use usvg::fontdb::{Database, Source, Weight};
use usvg::{FontResolver, Options};

/// The family of both own weights.
pub const FONT: &str = "Atkinson Hyperlegible Next";

macro_rules! files {
    ($($name:literal),+ $(,)?) => {
        [$(($name, include_bytes!(concat!("../fonts/", $name)).as_slice())),+]
    };
}

/// In this order a letter is looked for; what `scripts/fonts` made has the further scripts. Most have one weight only.
static FILES: [(&str, &[u8]); 20] = files![
    "AtkinsonHyperlegibleNext-400.ttf",
    "AtkinsonHyperlegibleNext-700.ttf",
    "NotoSans_400Regular.ttf",
    "NotoSans_700Bold.ttf",
    "NotoSansArabic_400Regular.ttf",
    "NotoSansArabic_700Bold.ttf",
    "NotoSansHebrew_400Regular.ttf",
    "NotoSansHebrew_700Bold.ttf",
    "NotoSansBengali_400Regular.ttf",
    "NotoSansGurmukhi_400Regular.ttf",
    "NotoSansGujarati_400Regular.ttf",
    "NotoSansTamil_400Regular.ttf",
    "NotoSansTelugu_400Regular.ttf",
    "NotoSansThai_400Regular.ttf",
    "NotoSansEthiopic_400Regular.ttf",
    "NotoSansArmenian_400Regular.ttf",
    "NotoSansGeorgian_400Regular.ttf",
    "NotoSansJP_400Regular.ttf",
    "NotoSansKR_400Regular.ttf",
    "NotoSansSC_400Regular.ttf",
];

/// A font by the name of its file, for pages that show letters of other scripts.
#[must_use]
pub fn file(name: &str) -> Option<&'static [u8]> {
    FILES.iter().find(|(known, _)| *known == name).map(|(_, file)| *file)
}

/// The fonts, which stay where the program has them: nothing is copied.
static FONTS: LazyLock<Arc<Database>> = LazyLock::new(|| {
    let mut fonts = Database::new();
    for (_, file) in FILES {
        fonts.load_font_source(Source::Binary(Arc::new(file)));
    }
    fonts.set_sans_serif_family(FONT);
    Arc::new(fonts)
});

/// The family behind our own, whose Latin letters go with its Greek, Cyrillic and Vietnamese ones.
const WIDE: &str = "Noto Sans";

/// The font that a text is set in: our own where it has all letters or others lack some too, else [`WIDE`], so that no word is put
/// together from two.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub(crate) enum SetIn {
    /// Our own.
    Own,
    /// [`WIDE`].
    Wide,
}

impl SetIn {
    /// For a text as a whole.
    pub(crate) fn of(text: &str) -> Self {
        // Most texts: every letter was looked up before.
        let is_usual = |letter: char| usize::try_from(u32::from(letter)).is_ok_and(|at| OWN.get(at) == Some(&true));
        if text.chars().all(is_usual) {
            return Self::Own;
        }
        let [own, wide] = [&FACES.0, &FACES.1].map(|faces| {
            faces.first().is_some_and(|face| {
                text.chars().all(|letter| letter.is_control() || face.glyph_index(letter).is_some())
            })
        });
        if !own && wide { Self::Wide } else { Self::Own }
    }

    /// The family as SVG names it, where it is not the page's own.
    pub(crate) const fn family(self) -> Option<&'static str> {
        match self {
            Self::Own => None,
            Self::Wide => Some(WIDE),
        }
    }
}

/// So many letters are looked up once.
pub(crate) const USUAL: u32 = 0x250;

/// Which of them our own font has, by their number.
static OWN: LazyLock<Vec<bool>> = LazyLock::new(|| {
    let has = |letter: char| FACES.0.first().is_some_and(|face| face.glyph_index(letter).is_some());
    (0..USUAL).map(|code| char::from_u32(code).is_some_and(has)).collect()
});

/// The faces to measure by: nothing is wider than the bold ones.
///
/// Once in the order in which our own font is followed by the others, once in that in which [`WIDE`] comes first.
static FACES: LazyLock<(Vec<Face<'static>>, Vec<Face<'static>>)> = LazyLock::new(|| {
    let faces = FILES.iter().filter_map(|(_, file)| Face::parse(file, 0).ok());
    let (bold, regular): (Vec<_>, Vec<_>) = faces.partition(|face| face.weight().to_number() >= 700);
    let own: Vec<_> = bold.into_iter().chain(regular).collect();
    let mut wide = own.clone();
    wide.rotate_left(1);
    (own, wide)
});

/// The advance of a letter as a part of the font's size, in bold where there is a bold; `None` where no font has it.
pub(crate) fn advance(letter: char, set_in: SetIn) -> Option<f64> {
    let faces = if set_in == SetIn::Own { &FACES.0 } else { &FACES.1 };
    faces.iter().find_map(|face| {
        let advance = face.glyph_hor_advance(face.glyph_index(letter)?)?;
        Some(f64::from(advance) / f64::from(face.units_per_em()))
    })
}

/// How a drawing is read: with our fonts and no others, a letter that ours does not have from the first that does, in the same
/// weight where there is one.
pub(crate) fn options() -> Options<'static> {
    let select_fallback: usvg::FallbackSelectionFn<'static> = Box::new(|letter, tried, fonts| {
        let wanted = tried.first().and_then(|first| fonts.face(*first)).map_or(Weight::NORMAL, |face| face.weight);
        let has =
            |id| fonts.with_face_data(id, |data, index| Face::parse(data, index).ok()?.glyph_index(letter)).flatten();
        let having: Vec<_> = fonts.faces().filter(|face| !tried.contains(&face.id) && has(face.id).is_some()).collect();
        having.iter().find(|face| face.weight == wanted).or(having.first()).map(|face| face.id)
    });
    Options {
        font_family: FONT.to_owned(),
        fontdb: FONTS.clone(),
        font_resolver: FontResolver { select_font: FontResolver::default_font_selector(), select_fallback },
        ..Options::default()
    }
}
