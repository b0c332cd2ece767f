//! Where the texts of a page stand, for seeing whether they fall over each other and whether a font has their letters.

use crate::pdf::{Drawing, PdfError, tree};

/// A text as it stands on a page.
#[derive(Clone, Debug, PartialEq)]
pub struct Standing {
    /// What it says.
    pub text: String,
    /// Whether the fonts have all of its letters: what they do not have is drawn as a box.
    pub complete: bool,
    /// Left, top, right and bottom of its ink, in millimetres from the page's top left corner.
    pub ink: [f64; 4],
}

/// Where the ink of each text of a page stands, as it is drawn: for seeing whether two fall over each other.
///
/// # Errors
/// [`PdfError`] if the drawing is not what this crate draws.
pub fn standing(drawing: &Drawing) -> Result<Vec<Standing>, PdfError> {
    fn gather(group: &usvg::Group, scale: f64, found: &mut Vec<Standing>) {
        for node in group.children() {
            match node {
                usvg::Node::Group(group) => gather(group, scale, found),
                usvg::Node::Text(text) => {
                    let within = text.flattened().bounding_box();
                    let ink = within.transform(text.abs_transform()).unwrap_or(within);
                    let sides = [ink.left(), ink.top(), ink.right(), ink.bottom()];
                    let said = text.chunks().iter().map(usvg::TextChunk::text).collect::<Vec<_>>().join(" ");
                    let glyphs = text.layouted().iter().flat_map(|span| &span.positioned_glyphs);
                    let complete = glyphs.into_iter().all(|glyph| glyph.id.0 != 0);
                    found.push(Standing { text: said, complete, ink: sides.map(|side| f64::from(side) * scale) });
                }
                usvg::Node::Path(_) | usvg::Node::Image(_) => {}
            }
        }
    }
    let tree = tree(&drawing.svg())?;
    let mut found = Vec::new();
    gather(tree.root(), drawing.size().0 / f64::from(tree.size().width()), &mut found);
    Ok(found)
}
