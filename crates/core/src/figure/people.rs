//! The body of a child of ten, in millimetres: head, trunk, arms, legs, as outlines without face or clothing.

use kurbo::{BezPath, Point, Vec2};

use super::canvas::Canvas;
use super::limb::{End, limb, oval, polar};
use super::shape::Class;

/// From shoulder to elbow and from elbow to wrist.
pub(super) const ARM: [f64; 2] = [235.0, 205.0];
/// Half of the way between the shoulders' joints.
pub(super) const SHOULDER: f64 = 132.0;
/// Radii of the head across and down.
pub(super) const HEAD: Vec2 = Vec2::new(70.0, 92.0);
/// From the base of the neck up to the middle of the head.
pub(super) const HEAD_UP: f64 = 128.0;

/// The elbow of an arm from shoulder to wrist; it stands out to the side of `turn`. A wrist too far away is not reached.
pub(super) fn elbow(shoulder: Point, wrist: Point, turn: f64) -> Point {
    let [upper, lower] = ARM;
    let to = wrist - shoulder;
    let distance = to.hypot().clamp((upper - lower).abs() + 1.0, upper + lower - 1.0);
    let cosine = (upper * upper + distance * distance - lower * lower) / (2.0 * upper * distance);
    let away = cosine.clamp(-1.0, 1.0).acos().to_degrees();
    shoulder + polar(upper, super::limb::degrees(to) + turn * away)
}

/// An arm with a hand at its end, like a mitten that points on from the wrist towards `hand`.
pub(super) fn arm(shoulder: Point, elbow: Point, wrist: Point, hand: Point) -> Vec<BezPath> {
    let ends = [End::Round, End::Round];
    vec![
        limb(&[shoulder, elbow, wrist], &[40.0, 31.0, 19.0], ends),
        limb(&[wrist, wrist.lerp(hand, 0.5), hand], &[19.0, 25.0, 13.0], ends),
    ]
}

/// Trunk and neck from the front, the base of the neck at (0, 0): shoulders lifted by so much, left of the child on the right.
pub(super) fn trunk(left_up: f64, right_up: f64, down: f64, lean: f64) -> [BezPath; 2] {
    let ends = [End::Round, End::Cut];
    let hip = Point::new(lean, down);
    let (left, right) = (Point::new(SHOULDER, 22.0 - left_up), Point::new(-SHOULDER, 22.0 - right_up));
    let chest = limb(&[Point::new(0.0, 52.0), hip], &[118.0, 96.0], ends);
    let shoulders = limb(&[right, Point::new(0.0, 10.0), left], &[38.0, 46.0, 38.0], [End::Round, End::Round]);
    [chest, shoulders]
}

/// Neck and head from the front: turned to the child's left by `turn` degrees, dropped by so much.
pub(super) fn head(canvas: &mut Canvas, base: Point, turn: f64, drop: f64, tilt: f64) -> Point {
    let middle = base + Vec2::new(turn * 0.35 + tilt * 1.6, -HEAD_UP + drop);
    let skull = oval(middle, HEAD, tilt);
    let neck = limb(&[base + Vec2::new(0.0, 20.0), middle], &[34.0, 34.0], [End::Round, End::Round]);
    canvas.melt(Class::Limb, [neck, skull]);
    // The way it looks: the line of brows and nose.
    let nose = middle + Vec2::new(turn * 1.1, 6.0) + polar(tilt.abs() * 0.3, 90.0);
    canvas.line(
        Class::Nail,
        &[nose - Vec2::new(0.0, 22.0), nose + Vec2::new(turn * 0.24, 10.0), nose + Vec2::new(-turn * 0.05, 18.0)],
    );
    middle
}
