//! Pages drawn as SVG in millimetres, put into a PDF at true scale with the fonts' letters embedded.

use std::collections::HashMap;
use std::sync::Arc;

use pdf_writer::{Content, Finish, Name, Pdf, Rect, Ref};
use svg2pdf::ConversionOptions;

use crate::fonts::{self, FONT, SetIn};

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

const POINTS_PER_MM: f64 = 72.0 / 25.4;

/// A picture that stands on pages as it is, however often: a PDF holds it once.
#[derive(Clone, Debug)]
pub(crate) struct Picture {
    /// Width and height in units of its own.
    pub(crate) size: (f64, f64),
    /// Its shapes, as SVG.
    pub(crate) body: Arc<str>,
}

impl Picture {
    const LINES: &str = "stroke-linejoin=\"round\" stroke-linecap=\"round\"";

    /// What tells it from others.
    fn key(&self) -> (String, Arc<str>) {
        (format!("{:?}", self.size), Arc::clone(&self.body))
    }

    /// By itself, as SVG.
    fn svg(&self) -> String {
        let (width, height) = self.size;
        format!(
            "<svg xmlns=\"http://www.w3.org/2000/svg\" width=\"{width}\" height=\"{height}\" viewBox=\"0 0 {width} {height}\" {}>\n{}</svg>\n",
            Self::LINES,
            self.body
        )
    }
}

/// Where a picture stands on a page, in millimetres from the page's top left corner.
#[derive(Clone, Debug)]
struct Placed {
    at: (f64, f64),
    size: (f64, f64),
    picture: Picture,
}

/// A page's drawing: everything inside the `svg` element, in millimetres from its top left corner.
#[derive(Clone, Debug, Default)]
pub struct Drawing {
    /// Width and height in millimetres.
    size: (f64, f64),
    body: String,
    /// Over the rest.
    pictures: Vec<Placed>,
}

impl Drawing {
    /// An empty page of this size in millimetres.
    #[must_use]
    pub fn new(size: (f64, f64)) -> Self {
        Self { size, body: String::new(), pictures: Vec::new() }
    }

    /// A text from its left end, centre or right end (`start`, `middle`, `end`); `size` is the font's, in millimetres.
    pub fn text(&mut self, at: (f64, f64), size: f64, anchor: &str, bold: bool, text: &str) {
        let weight = if bold { 700 } else { 400 };
        let (x, y) = at;
        self.body.push_str(&format!(
            "<text x=\"{x:.2}\" y=\"{y:.2}\" font-size=\"{size}\" font-weight=\"{weight}\" text-anchor=\"{anchor}\"{}>{}</text>\n",
            family(text),
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
            "<text x=\"{:.2}\" y=\"{:.2}\" font-size=\"{size}\" font-weight=\"700\" text-anchor=\"middle\" fill=\"{colour}\"{}>{}</text>\n",
            at.0, at.1, family(text), escaped(text)
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
        self.pictures.extend(part.pictures.iter().map(|placed| Placed {
            at: (x + placed.at.0 * scale, y + placed.at.1 * scale),
            size: (placed.size.0 * scale, placed.size.1 * scale),
            picture: placed.picture.clone(),
        }));
    }

    /// A picture at a place, so large in millimetres.
    pub(crate) fn picture(&mut self, at: (f64, f64), size: (f64, f64), picture: Picture) {
        self.pictures.push(Placed { at, size, picture });
    }

    /// The page as an SVG file.
    #[must_use]
    pub fn svg(&self) -> String {
        let mut inside = self.body.clone();
        for Placed { at, size, picture } in &self.pictures {
            inside += &format!(
                "<svg x=\"{:.2}\" y=\"{:.2}\" width=\"{:.2}\" height=\"{:.2}\" viewBox=\"0 0 {} {}\" {}>\n{}</svg>\n",
                at.0,
                at.1,
                size.0,
                size.1,
                picture.size.0,
                picture.size.1,
                Picture::LINES,
                picture.body
            );
        }
        self.file(&inside)
    }

    fn file(&self, inside: &str) -> String {
        let (width, height) = self.size;
        format!(
            "<svg xmlns=\"http://www.w3.org/2000/svg\" width=\"{width}mm\" height=\"{height}mm\" viewBox=\"0 0 {width} {height}\" font-family=\"{FONT}, sans-serif\" fill=\"#000\">\n{inside}</svg>\n"
        )
    }
}

/// The font of a text that is not set in the page's own.
fn family(text: &str) -> String {
    SetIn::of(text).family().map_or_else(String::new, |family| format!(" font-family=\"{family}, sans-serif\""))
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

/// Why a page could not be made; a fault of ours.
#[derive(Debug, thiserror::Error)]
#[error("a page could not be drawn: {0}")]
pub struct PdfError(String);

/// The pages as one PDF.
///
/// # Errors
/// [`PdfError`] if a drawing is not what this crate draws.
pub fn pdf(pages: &[Drawing], title: &str) -> Result<Vec<u8>, PdfError> {
    let mut next = Ref::new(1);
    let mut pdf = Pdf::new();
    let (catalog, tree_id, info) = (next.bump(), next.bump(), next.bump());
    let ids: Vec<(Ref, Ref)> = pages.iter().map(|_| (next.bump(), next.bump())).collect();
    let mut root = pdf.catalog(catalog);
    root.pages(tree_id).lang(pdf_writer::TextStr("en"));
    root.viewer_preferences().display_doc_title(true);
    root.finish();
    let count = i32::try_from(pages.len()).map_err(|_| PdfError("too many pages".to_owned()))?;
    pdf.pages(tree_id).kids(ids.iter().map(|(page, _)| *page)).count(count);
    pdf.document_info(info).title(pdf_writer::TextStr(title)).producer(pdf_writer::TextStr("Bright Row"));
    let mut known: HashMap<(String, Arc<str>), Ref> = HashMap::new();
    for (drawing, (page_id, content_id)) in pages.iter().zip(ids) {
        let sheet = object(&mut pdf, &mut next, &drawing.file(&drawing.body))?;
        let (width, height) = drawing.size;
        let mut objects = vec![(sheet, (0.0, 0.0), (width, height))];
        for Placed { at, size, picture } in &drawing.pictures {
            let key = picture.key();
            let id = match known.get(&key) {
                Some(id) => *id,
                None => *known.entry(key).or_insert(object(&mut pdf, &mut next, &picture.svg())?),
            };
            objects.push((id, *at, *size));
        }
        let names: Vec<String> = (0..objects.len()).map(|number| format!("P{number}")).collect();
        let mut page = pdf.page(page_id);
        let points = |mm: f64| narrow(mm * POINTS_PER_MM);
        page.media_box(Rect::new(0.0, 0.0, points(width), points(height))).parent(tree_id).contents(content_id);
        let mut resources = page.resources();
        let mut named = resources.x_objects();
        for (name, (id, ..)) in names.iter().zip(&objects) {
            named.pair(Name(name.as_bytes()), *id);
        }
        named.finish();
        resources.finish();
        page.finish();
        let mut content = Content::new();
        for (name, (_, at, size)) in names.iter().zip(&objects) {
            // A page's origin is below, and an object is one unit wide and high.
            let place = [points(size.0), 0.0, 0.0, points(size.1), points(at.0), points(height - at.1 - size.1)];
            content.save_state().transform(place).x_object(Name(name.as_bytes())).restore_state();
        }
        pdf.stream(content_id, &content.finish());
    }
    Ok(pdf.finish())
}

/// A drawing as it is read, its letters set.
pub(crate) fn tree(svg: &str) -> Result<usvg::Tree, PdfError> {
    usvg::Tree::from_str(svg, &fonts::options()).map_err(|error| PdfError(error.to_string()))
}

/// A drawing as an object of the PDF, one unit wide and high.
fn object(pdf: &mut Pdf, next: &mut Ref, svg: &str) -> Result<Ref, PdfError> {
    let tree = tree(svg)?;
    let (chunk, svg_id) =
        svg2pdf::to_chunk(&tree, ConversionOptions::default()).map_err(|error| PdfError(error.to_string()))?;
    let mut renumbered = HashMap::new();
    let chunk = chunk.renumber(|old| *renumbered.entry(old).or_insert_with(|| next.bump()));
    pdf.extend(&chunk);
    renumbered.get(&svg_id).copied().ok_or_else(|| PdfError("the drawing has no reference".to_owned()))
}

/// PDF numbers are single floats; page sizes are far from their limits.
#[allow(clippy::cast_possible_truncation, clippy::as_conversions)]
fn narrow(value: f64) -> f32 {
    value as f32
}
