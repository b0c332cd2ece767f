//! Cutting outlines off at the frame: an arm that goes on beyond it ends there.

use kurbo::{BezPath, PathEl, Point, Rect, Shape as _};

/// How finely a curve that crosses the frame is followed, in millimetres.
const FINE: f64 = 0.15;

/// What of a path lies within; `None` where nothing does. What does not cross is left as it is.
pub(super) fn clipped(path: BezPath, within: Rect) -> Option<BezPath> {
    let bounds = path.bounding_box();
    if within.union(bounds) == within {
        return Some(path);
    }
    let mut parts: Vec<(Vec<Point>, bool)> = Vec::new();
    kurbo::flatten(&path, FINE, |element| match element {
        PathEl::MoveTo(point) => parts.push((vec![point], false)),
        PathEl::LineTo(point) => {
            if let Some((points, _)) = parts.last_mut() {
                points.push(point);
            }
        }
        PathEl::ClosePath => {
            if let Some((_, closed)) = parts.last_mut() {
                *closed = true;
            }
        }
        // Flattening leaves lines only.
        PathEl::QuadTo(..) | PathEl::CurveTo(..) => {}
    });
    let mut out = BezPath::new();
    for (points, closed) in parts {
        if closed { area(points, within, &mut out) } else { strokes(&points, within, &mut out) }
    }
    (!out.elements().is_empty()).then_some(out)
}

/// The four sides: how far a point is inside of each.
fn sides(within: Rect) -> [impl Fn(Point) -> f64; 4] {
    [(1.0, 0.0, -within.x0), (-1.0, 0.0, within.x1), (0.0, 1.0, -within.y0), (0.0, -1.0, within.y1)]
        .map(|(across, down, from)| move |point: Point| point.x * across + point.y * down + from)
}

/// An area, side by side (Sutherland and Hodgman).
fn area(mut points: Vec<Point>, within: Rect, out: &mut BezPath) {
    for inside in sides(within) {
        let mut kept = Vec::with_capacity(points.len() + 4);
        for (at, to) in points.iter().enumerate() {
            let from = points[(at + points.len() - 1) % points.len()];
            let (before, after) = (inside(from), inside(*to));
            if (before < 0.0) != (after < 0.0) {
                kept.push(from.lerp(*to, before / (before - after)));
            }
            if after >= 0.0 {
                kept.push(*to);
            }
        }
        points = kept;
        if points.is_empty() {
            return;
        }
    }
    out.move_to(points[0]);
    points[1..].iter().for_each(|point| out.line_to(*point));
    out.close_path();
}

/// A line: every piece of it on its own.
fn strokes(points: &[Point], within: Rect, out: &mut BezPath) {
    let mut last = None;
    for pair in points.windows(2) {
        let (mut from, mut to) = (pair[0], pair[1]);
        let gone = sides(within).into_iter().any(|inside| {
            let (before, after) = (inside(from), inside(to));
            match (before < 0.0, after < 0.0) {
                (true, true) => return true,
                (true, false) => from = from.lerp(to, before / (before - after)),
                (false, true) => to = from.lerp(to, before / (before - after)),
                (false, false) => {}
            }
            false
        });
        if gone {
            continue;
        }
        if last != Some(from) {
            out.move_to(from);
        }
        out.line_to(to);
        last = Some(to);
    }
}
