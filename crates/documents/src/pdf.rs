//! Pages drawn as SVG in millimetres, put into a PDF at true scale with our own font embedded.

use std::collections::HashMap;
use std::sync::{Arc, LazyLock};

use pdf_writer::{Content, Finish, Name, Pdf, Rect, Ref};
use svg2pdf::ConversionOptions;
use usvg::fontdb::Database;

/// A sheet of paper, upright.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub enum Paper {
    /// 210 x 297 mm.
    A4,
    /// 8.5 x 11 in.
    Letter,
    /// 297 x 420 mm.
    A3,
    /// 11 x 17 in.
    Tabloid,
}

impl Paper {
    /// Width and height in millimetres.
    #[must_use]
    pub const fn size_mm(self) -> (f64, f64) {
        match self {
            Self::A4 => (210.0, 297.0),
            Self::Letter => (215.9, 279.4),
            Self::A3 => (297.0, 420.0),
            Self::Tabloid => (279.4, 431.8),
        }
    }
}

/// The family of both embedded weights.
pub const FONT: &str = "Atkinson Hyperlegible Next";
const POINTS_PER_MM: f64 = 72.0 / 25.4;

static FONTS: LazyLock<Arc<Database>> = LazyLock::new(|| {
    let mut fonts = Database::new();
    fonts.load_font_data(include_bytes!("../fonts/AtkinsonHyperlegibleNext-400.ttf").to_vec());
    fonts.load_font_data(include_bytes!("../fonts/AtkinsonHyperlegibleNext-700.ttf").to_vec());
    fonts.set_sans_serif_family(FONT);
    Arc::new(fonts)
});

/// A page's drawing: everything inside the `svg` element, in millimetres from its top left corner.
#[derive(Clone, Debug, Default)]
pub struct Drawing {
    /// Width and height in millimetres.
    size: (f64, f64),
    body: String,
}

impl Drawing {
    /// An empty page of this size in millimetres.
    #[must_use]
    pub fn new(size: (f64, f64)) -> Self {
        Self { size, body: String::new() }
    }

    /// A text from its left end, centre or right end (`start`, `middle`, `end`); `size` is the font's, in millimetres.
    pub fn text(&mut self, at: (f64, f64), size: f64, anchor: &str, bold: bool, text: &str) {
        let weight = if bold { 700 } else { 400 };
        let (x, y) = at;
        self.body.push_str(&format!(
            "<text x=\"{x:.2}\" y=\"{y:.2}\" font-size=\"{size}\" font-weight=\"{weight}\" text-anchor=\"{anchor}\">{}</text>\n",
            escaped(text)
        ));
    }

    /// A line.
    pub fn line(&mut self, from: (f64, f64), to: (f64, f64), width: f64) {
        self.body.push_str(&format!(
            "<path d=\"M{:.2} {:.2}L{:.2} {:.2}\" stroke=\"#000\" stroke-width=\"{width}\" fill=\"none\"/>\n",
            from.0, from.1, to.0, to.1
        ));
    }

    /// A frame with rounded corners.
    pub fn frame(&mut self, at: (f64, f64), size: (f64, f64), radius: f64) {
        self.body.push_str(&format!(
            "<rect x=\"{:.2}\" y=\"{:.2}\" width=\"{:.2}\" height=\"{:.2}\" rx=\"{radius}\" fill=\"none\" stroke=\"#000\" stroke-width=\"0.25\"/>\n",
            at.0, at.1, size.0, size.1
        ));
    }

    /// A broken line.
    pub fn dashes(&mut self, from: (f64, f64), to: (f64, f64), width: f64) {
        self.body.push_str(&format!(
            "<path d=\"M{:.2} {:.2}L{:.2} {:.2}\" stroke=\"#000\" stroke-width=\"{width}\" stroke-dasharray=\"1.4 1\" fill=\"none\"/>\n",
            from.0, from.1, to.0, to.1
        ));
    }

    /// A band: its colour inside, a fine line around it.
    pub fn band(&mut self, at: (f64, f64), size: (f64, f64), colour: &str) {
        self.body.push_str(&format!(
            "<rect x=\"{:.3}\" y=\"{:.3}\" width=\"{:.2}\" height=\"{:.2}\" fill=\"{colour}\" stroke=\"#000\" stroke-width=\"0.15\"/>\n",
            at.0, at.1, size.0, size.1
        ));
    }

    /// A round spot.
    pub fn spot(&mut self, centre: (f64, f64), radius: f64, colour: &str) {
        self.body.push_str(&format!(
            "<circle cx=\"{:.3}\" cy=\"{:.3}\" r=\"{radius:.2}\" fill=\"{colour}\" stroke=\"#000\" stroke-width=\"0.25\"/>\n",
            centre.0, centre.1
        ));
    }

    /// A text in a colour, like [`Drawing::text`], in bold.
    pub fn coloured(&mut self, at: (f64, f64), size: f64, colour: &str, text: &str) {
        self.body.push_str(&format!(
            "<text x=\"{:.2}\" y=\"{:.2}\" font-size=\"{size}\" font-weight=\"700\" text-anchor=\"middle\" fill=\"{colour}\">{}</text>\n",
            at.0, at.1, escaped(text)
        ));
    }

    /// A filled shape given as path data.
    pub fn fill(&mut self, path: &str) {
        self.body.push_str(&format!("<path d=\"{path}\"/>\n"));
    }

    /// Width and height in millimetres.
    #[must_use]
    pub const fn size(&self) -> (f64, f64) {
        self.size
    }

    /// Another drawing as a part of this one, its top left corner at a place, so many times as large.
    pub fn place(&mut self, part: &Self, (x, y): (f64, f64), scale: f64) {
        let (width, height) = part.size;
        self.body.push_str(&format!(
            "<svg x=\"{x:.2}\" y=\"{y:.2}\" width=\"{:.2}\" height=\"{:.2}\" viewBox=\"0 0 {width} {height}\">\n{}</svg>\n",
            width * scale,
            height * scale,
            part.body
        ));
    }

    /// What another module of this crate draws, as SVG.
    pub(crate) fn raw(&mut self, svg: &str) {
        self.body.push_str(svg);
    }

    /// The page as an SVG file.
    #[must_use]
    pub fn svg(&self) -> String {
        let (width, height) = self.size;
        format!(
            "<svg xmlns=\"http://www.w3.org/2000/svg\" width=\"{width}mm\" height=\"{height}mm\" viewBox=\"0 0 {width} {height}\" font-family=\"{FONT}\" fill=\"#000\">\n{}</svg>\n",
            self.body
        )
    }
}

/// Text inside XML; characters it does not know are left out.
pub(crate) fn escaped(text: &str) -> String {
    let kept = text.chars().filter(|c| !c.is_control());
    kept.flat_map(|c| match c {
        '&' => "&amp;".chars().collect::<Vec<_>>(),
        '<' => "&lt;".chars().collect(),
        '>' => "&gt;".chars().collect(),
        '"' => "&quot;".chars().collect(),
        other => vec![other],
    })
    .collect()
}

/// As much of a text as fits into `mm` at this font size, by a rough measure of the font, with an ellipsis where cut.
#[must_use]
pub fn fitting(text: &str, mm: f64, size: f64) -> String {
    // Letters of the font are some 0.52 of its size wide.
    let most = ((mm / (size * 0.52)).max(1.0)).floor();
    let count = text.chars().count();
    if f64::from(u32::try_from(count).unwrap_or(u32::MAX)) <= most {
        return text.to_owned();
    }
    let mut kept = String::new();
    let mut left = most - 1.0;
    for letter in text.chars() {
        if left < 1.0 {
            break;
        }
        kept.push(letter);
        left -= 1.0;
    }
    format!("{}…", kept.trim_end())
}

/// A text in lines that fit a width, broken between words; a word that is longer than a line is broken where it must be.
#[must_use]
pub fn wrapped(text: &str, mm: f64, size: f64) -> Vec<String> {
    // Letters of the font are some 0.52 of its size wide.
    let most = (1..=1000).take_while(|letters| f64::from(*letters) * size * 0.52 <= mm).count().max(1);
    let mut lines = vec![String::new()];
    for word in text.split_whitespace() {
        let letters: Vec<char> = word.chars().collect();
        for (number, part) in letters.chunks(most).enumerate() {
            let part: String = part.iter().collect();
            let last = lines.last_mut().expect("there is a line");
            let together = last.chars().count() + 1 + part.chars().count();
            if last.is_empty() {
                *last = part;
            } else if number == 0 && together <= most {
                last.push(' ');
                last.push_str(&part);
            } else {
                lines.push(part);
            }
        }
    }
    lines
}

/// Why a page could not be made; a fault of ours.
#[derive(Debug, thiserror::Error)]
#[error("a page could not be drawn: {0}")]
pub struct PdfError(String);

/// The pages as one PDF.
///
/// # Errors
/// [`PdfError`] if a drawing is not what this crate draws.
pub fn pdf(pages: &[Drawing], title: &str) -> Result<Vec<u8>, PdfError> {
    let options = usvg::Options { font_family: FONT.to_owned(), fontdb: FONTS.clone(), ..Default::default() };
    let mut next = Ref::new(1);
    let mut pdf = Pdf::new();
    let (catalog, tree_id, info) = (next.bump(), next.bump(), next.bump());
    let ids: Vec<(Ref, Ref)> = pages.iter().map(|_| (next.bump(), next.bump())).collect();
    pdf.catalog(catalog).pages(tree_id);
    let count = i32::try_from(pages.len()).map_err(|_| PdfError("too many pages".to_owned()))?;
    pdf.pages(tree_id).kids(ids.iter().map(|(page, _)| *page)).count(count);
    pdf.document_info(info).title(pdf_writer::TextStr(title)).producer(pdf_writer::TextStr("Bright Row"));
    for (drawing, (page_id, content_id)) in pages.iter().zip(ids) {
        let tree = usvg::Tree::from_str(&drawing.svg(), &options).map_err(|error| PdfError(error.to_string()))?;
        let (chunk, svg_id) =
            svg2pdf::to_chunk(&tree, ConversionOptions::default()).map_err(|error| PdfError(error.to_string()))?;
        let mut renumbered = HashMap::new();
        let chunk = chunk.renumber(|old| *renumbered.entry(old).or_insert_with(|| next.bump()));
        let svg_id = *renumbered.get(&svg_id).ok_or_else(|| PdfError("the drawing has no reference".to_owned()))?;
        let points = |mm: f64| narrow(mm * POINTS_PER_MM);
        let (width, height) = (points(drawing.size.0), points(drawing.size.1));
        let mut page = pdf.page(page_id);
        page.media_box(Rect::new(0.0, 0.0, width, height)).parent(tree_id).contents(content_id);
        page.resources().x_objects().pair(Name(b"S"), svg_id).finish();
        page.finish();
        let mut content = Content::new();
        content.save_state().transform([width, 0.0, 0.0, height, 0.0, 0.0]).x_object(Name(b"S")).restore_state();
        pdf.stream(content_id, &content.finish());
        pdf.extend(&chunk);
    }
    Ok(pdf.finish())
}

/// PDF numbers are single floats; page sizes are far from their limits.
#[allow(clippy::cast_possible_truncation, clippy::as_conversions)]
fn narrow(value: f64) -> f32 {
    value as f32
}
