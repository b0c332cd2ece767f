//! What several tests of drawings look for.

use bright_row_documents::pdf::Drawing;
use bright_row_documents::standing::standing;

/// What falls over something else, or off the page.
pub fn amiss(drawing: &Drawing) -> Vec<String> {
    let all = standing(drawing).expect("it is drawn");
    let (width, height) = drawing.size();
    let over = |a: [f64; 4], b: [f64; 4]| a[0] < b[2] && b[0] < a[2] && a[1] < b[3] && b[1] < a[3];
    let mut amiss = Vec::new();
    for (number, one) in all.iter().enumerate() {
        let [left, top, right, bottom] = one.ink;
        if left < 0.0 || top < 0.0 || right > width || bottom > height {
            amiss.push(format!("{:?} leaves the page", one.text));
        }
        let others = all[number + 1..].iter().filter(|other| over(one.ink, other.ink));
        amiss.extend(others.map(|other| format!("{:?} over {:?}", one.text, other.text)));
    }
    amiss
}
