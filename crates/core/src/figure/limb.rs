//! Outlines of what bends: a finger, an arm, a leg, drawn around the line of its joints.

use kurbo::{BezPath, Point, Vec2};

/// How a limb ends.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub(super) enum End {
    /// Round, like a fingertip: the outline goes on beyond the last joint by its radius.
    Round,
    /// Cut off square.
    Cut,
}

/// A point so far away, in degrees: 0 to the right, 90 down.
pub(super) fn polar(length: f64, degrees: f64) -> Vec2 {
    Vec2::from_angle(degrees.to_radians()) * length
}

/// The direction of a vector in degrees.
pub(super) fn degrees(of: Vec2) -> f64 {
    of.atan2().to_degrees()
}

/// A vector of length 1; to the right where there is none.
pub(super) fn unit(of: Vec2) -> Vec2 {
    if of.hypot() < 1e-9 { Vec2::new(1.0, 0.0) } else { of.normalize() }
}

fn left_of(direction: Vec2) -> Vec2 {
    Vec2::new(direction.y, -direction.x)
}

/// Where two lines meet, as far along the first as it says; `None` where they run side by side.
fn meeting(from: Point, along: Vec2, other: Point, other_along: Vec2) -> Option<f64> {
    let cross = along.cross(other_along);
    (cross.abs() > 1e-6).then(|| (other - from).cross(other_along) / cross)
}

/// The outline of a limb whose joints lie on `spine`, as thick as twice `radii` at each. Corners are rounded the way skin is:
/// a knuckle outside, a fold inside. The outline turns the same way round for every limb, so that several melt into one.
/// Two joints at least; joints that lie on each other are drawn as one.
pub(super) fn limb(spine: &[Point], radii: &[f64], ends: [End; 2]) -> BezPath {
    let mut joints: Vec<(Point, f64)> = Vec::with_capacity(spine.len());
    for (point, radius) in spine.iter().zip(radii) {
        if joints.last().is_none_or(|(last, _)| (*point - *last).hypot() > 1e-3) {
            joints.push((*point, *radius));
        }
    }
    if joints.len() < 2 {
        let (center, radius) = joints.first().copied().unwrap_or_default();
        return disc(center, radius);
    }
    let mut path = BezPath::new();
    side(&joints, &mut path, true);
    end(&joints, ends[1], &mut path);
    joints.reverse();
    side(&joints, &mut path, false);
    end(&joints, ends[0], &mut path);
    path.close_path();
    path
}

/// One side, from the first joint to the last, on the left.
fn side(joints: &[(Point, f64)], path: &mut BezPath, first: bool) {
    let along = |at: usize| unit(joints[at + 1].0 - joints[at].0);
    let start = joints[0].0 + left_of(along(0)) * joints[0].1;
    if first {
        path.move_to(start);
    } else {
        path.line_to(start);
    }
    for at in 1..joints.len() - 1 {
        let (joint, radius) = joints[at];
        let (before, after) = (along(at - 1), along(at));
        let (came, goes) = (joint + left_of(before) * radius, joint + left_of(after) * radius);
        let turn = before.cross(after);
        if turn.abs() < 0.02 {
            path.line_to(came);
            continue;
        }
        let room = (joint - joints[at - 1].0).hypot().min((joints[at + 1].0 - joint).hypot()) * 0.92;
        // Half of the turn's tangent: how far before the joint the two sides meet.
        let back = meeting(came, before, goes, after).unwrap_or(0.0);
        if turn > 0.0 {
            // The left side is outside: a knuckle, never sharper than a finger's.
            let reach = back.clamp(0.0, radius * 1.15);
            let corner = joint + unit(left_of(before) + left_of(after)) * radius.hypot(reach);
            path.line_to(came);
            path.quad_to(corner, goes);
        } else {
            // Inside: a fold where the two sides meet, as far as the pieces are long.
            let inset = (-back).clamp(0.0, room);
            let fold = (radius * 0.45).min((room - inset).max(0.0));
            let corner = came - before * inset;
            path.line_to(corner - before * fold);
            path.quad_to(corner, joint + left_of(after) * radius + after * (inset + fold));
        }
    }
    let last = joints[joints.len() - 1];
    path.line_to(last.0 + left_of(along(joints.len() - 2)) * last.1);
}

/// From the left side of the last joint round to its right side.
fn end(joints: &[(Point, f64)], end: End, path: &mut BezPath) {
    let ((before, _), (last, radius)) = (joints[joints.len() - 2], joints[joints.len() - 1]);
    let along = unit(last - before);
    let (left, tip) = (left_of(along) * radius, along * radius);
    if end == End::Round {
        let round = 0.5523;
        path.curve_to(last + left + tip * round, last + tip + left * round, last + tip);
        path.curve_to(last + tip - left * round, last - left + tip * round, last - left);
    }
}

/// A round outline.
pub(super) fn disc(center: Point, radius: f64) -> BezPath {
    oval(center, Vec2::new(radius, radius), 0.0)
}

/// An oval outline with the radii across and down, turned by `turn` degrees.
pub(super) fn oval(center: Point, radii: Vec2, turn: f64) -> BezPath {
    let (right, down) = (polar(radii.x, turn), polar(radii.y, turn + 90.0));
    let round = 0.5523;
    let mut path = BezPath::new();
    path.move_to(center + right);
    for (from, to) in [(right, down), (down, -right), (-right, -down), (-down, right)] {
        path.curve_to(center + from + to * round, center + to + from * round, center + to);
    }
    path.close_path();
    path
}

/// An outline through the middles between the points, its corners rounded; `sharp` keeps the corners. Turned the same way
/// round as [`limb`].
pub(super) fn blob(points: &[Point], sharp: bool) -> BezPath {
    let area: f64 =
        (0..points.len()).map(|at| points[at].to_vec2().cross(points[(at + 1) % points.len()].to_vec2())).sum();
    let mut points = points.to_vec();
    if area < 0.0 {
        points.reverse();
    }
    let mut path = BezPath::new();
    let count = points.len();
    if sharp {
        path.move_to(points[0]);
        points[1..].iter().for_each(|point| path.line_to(*point));
    } else {
        path.move_to(points[count - 1].midpoint(points[0]));
        (0..count).for_each(|at| path.quad_to(points[at], points[at].midpoint(points[(at + 1) % count])));
    }
    path.close_path();
    path
}

/// A line through the points, bent softly.
pub(super) fn line(points: &[Point]) -> BezPath {
    let mut path = BezPath::new();
    path.move_to(points[0]);
    match points {
        [_, bend, end] => path.quad_to(*bend, *end),
        [_, first, second, end] => path.curve_to(*first, *second, *end),
        _ => points[1..].iter().for_each(|point| path.line_to(*point)),
    }
    path
}

/// An arrow from one point to another: the shaft and the two strokes of its head.
pub(super) fn arrow(from: Point, to: Point, head: f64) -> BezPath {
    let back = degrees(from - to);
    let mut path = line(&[from, to]);
    path.move_to(to + polar(head, back - 32.0));
    path.line_to(to);
    path.line_to(to + polar(head, back + 32.0));
    path
}
