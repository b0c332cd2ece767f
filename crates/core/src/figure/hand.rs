//! The hand: how long its bones are, how far its joints bend, and how a finger gets its tip to where it touches.

use kurbo::{BezPath, Point, Vec2};

use super::canvas::Canvas;
use super::limb::{End, degrees, limb, line, polar, unit};
use super::part::Part;
use super::shape::Class;

/// A child of ten beside an adult, whose bones are measured below: hands grow from about 150 mm to about 185 mm.
pub(super) const CHILD: f64 = 0.82;

/// The end joint of a finger bends so far, in degrees: back a little, and in.
pub(super) const END_JOINT: [f64; 2] = [-30.0, 80.0];
/// The middle joint of a finger.
pub(super) const MIDDLE_JOINT: [f64; 2] = [0.0, 118.0];

/// Lengths of the three pieces of a finger and its radii at base, middle joint, end joint and tip, in millimetres.
#[derive(Clone, Copy, Debug)]
pub(super) struct Bones {
    pub(super) lengths: [f64; 3],
    pub(super) radii: [f64; 4],
}

const fn bones([first, middle, end]: [f64; 3], [root, bend, joint, tip]: [f64; 4]) -> Bones {
    Bones {
        lengths: [first * CHILD, middle * CHILD, end * CHILD],
        radii: [root * CHILD, bend * CHILD, joint * CHILD, tip * CHILD],
    }
}

/// Index, middle, ring and little finger: usual adult lengths, in proportion.
pub(super) const FINGERS: [Bones; 4] = [
    bones([44.0, 26.0, 22.0], [10.2, 9.4, 8.2, 7.0]),
    bones([49.0, 30.0, 23.0], [10.4, 9.5, 8.3, 7.1]),
    bones([46.0, 28.0, 23.0], [10.0, 9.0, 7.9, 6.8]),
    bones([36.0, 20.0, 20.0], [9.0, 7.9, 7.0, 6.0]),
];

/// The names of the four fingers.
pub(super) const FINGER_PARTS: [Part; 4] = [Part::Index, Part::Middle, Part::Ring, Part::Little];

/// The thumb's two free pieces.
pub(super) const THUMB_LENGTHS: [f64; 2] = [36.0 * CHILD, 30.0 * CHILD];
/// The thumb's radii at its base, its joint and its tip.
pub(super) const THUMB_RADII: [f64; 3] = [12.5 * CHILD, 10.5 * CHILD, 8.6 * CHILD];
/// How thick a forearm is at the wrist and at the elbow, as radii, in millimetres.
pub(super) const FOREARM_RADII: [f64; 2] = [22.0, 31.0];

/// A finger or a thumb where it lies.
#[derive(Clone, Debug)]
pub(super) struct Finger {
    /// From the root to the middle of the tip's curve.
    pub(super) joints: Vec<Point>,
    /// How long each piece is, the last without the tip's radius.
    pub(super) lengths: Vec<f64>,
    pub(super) radii: Vec<f64>,
}

impl Finger {
    /// The outline.
    pub(super) fn outline(&self) -> BezPath {
        limb(&self.joints, &self.radii, [End::Round, End::Round])
    }

    /// The middle of the tip's curve.
    pub(super) fn tip(&self) -> Point {
        self.joints[self.joints.len() - 1]
    }

    pub(super) fn tip_radius(&self) -> f64 {
        self.radii[self.radii.len() - 1]
    }

    /// The direction of the last piece.
    pub(super) fn end_along(&self) -> Vec2 {
        unit(self.tip() - self.joints[self.joints.len() - 2])
    }

    /// How far the skin of the tip is from a point.
    pub(super) fn gap(&self, to: Point) -> f64 {
        ((to - self.tip()).hypot() - self.tip_radius()).abs()
    }

    /// How far a point is outside of the last piece; 0 within it.
    pub(super) fn beside(&self, point: Point) -> f64 {
        let count = self.joints.len();
        let (from, to) = (self.joints[count - 2], self.joints[count - 1]);
        let along = (point - from).dot(to - from) / (to - from).hypot2().max(1e-9);
        let share = along.clamp(0.0, 1.0);
        let radius = self.radii[count - 2] + (self.radii[count - 1] - self.radii[count - 2]) * share;
        ((point - from.lerp(to, share)).hypot() - radius).max(0.0)
    }

    /// The nail as seen from the side: a fine line along the tip, on the side that `towards` points to.
    pub(super) fn nail(&self, canvas: &mut Canvas, towards: Vec2) {
        let (along, radius) = (self.end_along(), self.tip_radius());
        let across = Vec2::new(-along.y, along.x);
        let across = if across.dot(towards) < 0.0 { -across } else { across };
        let tip = self.tip();
        let (back, edge) =
            (tip - along * radius * 0.9 + across * radius * 0.88, tip + along * radius * 0.55 + across * radius * 0.62);
        canvas.line(
            Class::Nail,
            &[back, back - across * radius * 0.42 + along * radius * 0.3, edge - across * radius * 0.1],
        );
    }

    /// The nail as seen from above, in the middle of the tip.
    pub(super) fn nail_above(&self, canvas: &mut Canvas) {
        let (along, radius) = (self.end_along(), self.tip_radius());
        let across = Vec2::new(-along.y, along.x) * radius * 0.52;
        let (root, end) = (self.tip() - along * radius * 0.35, self.tip() + along * radius * 0.55);
        canvas.put(
            Class::Nail,
            line(&[
                end + across,
                root + across - along * radius * 0.5,
                root - across - along * radius * 0.5,
                end - across,
            ]),
        );
    }
}

/// A finger from its joints' angles: `along` is where the first piece points, each bend turns the next, all in degrees.
pub(super) fn bent(bones: &Bones, root: Point, along: f64, bends: [f64; 2], turn: f64) -> Finger {
    let [first, second, third] = bones.lengths;
    let third = third - bones.radii[3];
    let middle = root + polar(first, along);
    let end = middle + polar(second, along + turn * bends[0]);
    let tip = end + polar(third, along + turn * (bends[0] + bends[1]));
    Finger { joints: vec![root, middle, end, tip], lengths: vec![first, second, third], radii: bones.radii.to_vec() }
}

/// The last two pieces of a finger as one, its end joint bent so far: their length, and the angle between the first of them and
/// the line from its joint to the tip's middle, in degrees.
fn rest_of(bones: &Bones, end_bend: f64) -> (f64, f64) {
    let [_, second, third] = bones.lengths;
    let (third, bend) = (third - bones.radii[3], end_bend.to_radians());
    let rest = (second * second + third * third + 2.0 * second * third * bend.cos()).sqrt();
    (rest, (third * bend.sin()).atan2(second + third * bend.cos()).to_degrees())
}

/// How near to its root and how far from it a finger can have the middle of its tip.
fn room(bones: &Bones, end_bend: f64) -> [f64; 2] {
    let (first, (rest, within)) = (bones.lengths[0], rest_of(bones, end_bend));
    [MIDDLE_JOINT[1], MIDDLE_JOINT[0]].map(|middle| {
        let whole = (middle + within).max(0.0).to_radians();
        (first * first + rest * rest + 2.0 * first * rest * whole.cos()).sqrt()
    })
}

/// A finger whose tip's middle lies at `target`, its end joint bent by `end_bend` degrees; `turn` is 1 where its joints bend
/// clockwise, -1 where they bend the other way. Where the target is too far or too near, the finger is as long or as folded as
/// it can be and points at it.
pub(super) fn reaching(bones: &Bones, root: Point, target: Point, end_bend: f64, turn: f64) -> Finger {
    let first = bones.lengths[0];
    let end_bend = end_bend.clamp(END_JOINT[0], END_JOINT[1]);
    let (rest, within) = rest_of(bones, end_bend);
    let [near, far] = room(bones, end_bend);
    let to = target - root;
    let distance = to.hypot().clamp(near, far);
    let cosine = ((distance * distance - first * first - rest * rest) / (2.0 * first * rest)).clamp(-1.0, 1.0);
    // How far the rest is turned from the first piece.
    let whole = cosine.acos();
    let lean = (rest * whole.sin()).atan2(first + rest * whole.cos()).to_degrees();
    bent(bones, root, degrees(to) - turn * lean, [whole.to_degrees() - within, end_bend], turn)
}

/// The same with a hand that comes along: where the target is too far or too near, the root moves in its direction until the
/// tip is there.
pub(super) fn brought(bones: &Bones, root: Point, target: Point, end_bend: f64, turn: f64) -> Finger {
    let [near, far] = room(bones, end_bend.clamp(END_JOINT[0], END_JOINT[1]));
    let away = root - target;
    let root = target + unit(away) * away.hypot().clamp(near + 0.01, far - 0.01);
    reaching(bones, root, target, end_bend, turn)
}

/// How far from its root a finger with these bends has its tip's middle.
pub(super) fn reach(bones: &Bones, bends: [f64; 2]) -> f64 {
    let finger = bent(bones, Point::ZERO, 0.0, bends, 1.0);
    finger.tip().to_vec2().hypot()
}

/// A thumb from its base to `tip`, the middle of its tip's curve: `bend` degrees at its joint, which stands out to the side of
/// `turn`; a negative bend is a joint pressed through. Its base lies as far away as its bones are long, in the direction of
/// `base`.
pub(super) fn thumb(base: Point, tip: Point, bend: f64, turn: f64) -> Finger {
    let [first, second] = THUMB_LENGTHS;
    let second = second - THUMB_RADII[2];
    let angle = bend.to_radians();
    let reach = (first * first + second * second + 2.0 * first * second * angle.cos()).sqrt();
    let away = unit(base - tip);
    let base = tip + away * reach;
    let lean = (first * angle.sin()).atan2(second + first * angle.cos()).to_degrees();
    let joint = tip + polar(second, degrees(away) + turn * lean);
    Finger { joints: vec![base, joint, tip], lengths: vec![first, second], radii: THUMB_RADII.to_vec() }
}

/// A palm through the roots of the four fingers to the wrist, as an outline that melts with them.
pub(super) fn palm(roots: &[Point; 4], radii: [f64; 2], wrist: Point, wrist_radius: f64) -> Vec<BezPath> {
    let [index, middle, ring, little] = *roots;
    let ends = [End::Round, End::Round];
    let toward = |root: Point, share: f64| wrist + (root - wrist).normalize() * wrist_radius * share;
    vec![
        limb(&[index, toward(index, 0.35)], &[radii[0], wrist_radius * 0.82], ends),
        limb(&[middle, toward(middle, 0.3)], &[radii[0], wrist_radius * 0.8], ends),
        limb(&[ring, toward(ring, 0.3)], &[radii[1], wrist_radius * 0.8], ends),
        limb(&[little, toward(little, 0.35)], &[radii[1], wrist_radius * 0.82], ends),
        limb(&[index, middle, ring, little], &[radii[0], radii[0], radii[1], radii[1]], ends),
    ]
}

/// A forearm from the wrist towards the elbow, so long.
pub(super) fn forearm(wrist: Point, towards: Vec2, length: f64, wide: f64) -> BezPath {
    let end = wrist + unit(towards) * length;
    let elbow = FOREARM_RADII[0] + (FOREARM_RADII[1] - FOREARM_RADII[0]) * (length / 200.0).min(1.0);
    limb(&[wrist, end], &[FOREARM_RADII[0] * wide, elbow * wide], [End::Round, End::Cut])
}
