//! Along the neck from the scroll, cut at the first finger: hand height, arch, thumb, air under the neck.

mod alone;

use kurbo::{BezPath, Point, Vec2};

use super::bow_hand::pressure;
use crate::figure::canvas::Canvas;
use crate::figure::hand::{FINGERS, Finger, THUMB_RADII, brought, forearm, thumb};
use crate::figure::limb::{End, blob, limb, unit};
use crate::figure::parameters::parameters;
use crate::figure::part::{Part, Place};
use crate::figure::shape::{Class, LabelWord};
use crate::instrument::Instrument;

parameters! {
    /// The numbers of the cut through neck and hand.
    NeckSection {
        number knuckle (-30.0, 26.0, "mm") = [3.0, 3.0, 14.0, 14.0], "How high the base knuckle is above the fingerboard's edge.";
        number end_bend (-28.0, 78.0, "degrees") = [60.0, 60.0, 46.0, 42.0], "Bend of the first finger's end joint; below 0 it gives way.";
        number pad (0.0, 7.0, "mm") = [0.0, 0.0, 0.0, 0.0], "How far the tip lies beyond the string: 0 is on the tip, more is on the pad.";
        number string (1.0, 4.0, "count") = [3.0, 2.0, 2.0, 2.0], "Which string is pressed, 1 the highest.";
        number lift (0.0, 30.0, "mm") = [0.0, 0.0, 0.0, 0.0], "How far the finger is above the string.";
        number thumb_height (-10.0, 24.0, "mm") = [6.0, 6.0, 0.0, 0.0], "How far the thumb's tip stands above the fingerboard's edge.";
        number thumb_bend (-25.0, 70.0, "degrees") = [24.0, 24.0, 34.0, 34.0], "Bend of the thumb's joint; below 0 it is pressed through.";
        number thumb_side (-20.0, 20.0, "mm") = [0.0, 0.0, 0.0, 0.0], "How far the thumb is from the middle of the neck's back.";
        number air (0.0, 30.0, "mm") = [15.0, 15.0, 18.0, 18.0], "Open air between the neck and the hand.";
        number index_gap (0.0, 12.0, "mm") = [0.0, 0.0, 0.0, 0.0], "Room between the base of the index and the neck.";
        number wrist (-34.0, 34.0, "mm") = [0.0, 0.0, 0.0, 0.0], "How far the wrist is off the line from elbow to knuckles: below 0 in or sunk, above 0 out or humped.";
        number nail (0.0, 7.0, "mm") = [0.0, 0.0, 0.0, 0.0], "How far a nail stands out over the fingertip.";
        number squeeze (0.0, 100.0, "percent") = [0.0, 0.0, 0.0, 0.0], "How hard thumb and finger press.";
        word around ("neck", "ring", "table", "palm") = ["neck", "neck", "neck", "neck"], "What the hand is at: a neck, its own thumb, a table, the other palm.";
        word gauge ("none", "finger") = ["none", "none", "none", "none"], "What tests the air.";
    }
}

/// From the tip to its side, in millimetres of `pad`.
const ON_THE_SIDE: f64 = 2.5;

/// A neck that is cut: half its width, the board's height over its edge, the depth below.
struct Neck {
    half: f64,
    rise: f64,
    depth: f64,
}

impl Neck {
    const fn of(instrument: Instrument) -> Self {
        match instrument {
            Instrument::Violin => Self { half: 12.5, rise: 3.6, depth: 21.0 },
            Instrument::Viola => Self { half: 13.5, rise: 3.8, depth: 22.0 },
            Instrument::Cello => Self { half: 17.0, rise: 5.5, depth: 28.0 },
            Instrument::Bass => Self { half: 22.0, rise: 7.5, depth: 34.0 },
        }
    }

    /// A string's middle, 1 the highest, which lies on the fingers' side.
    fn string(&self, number: f64) -> Point {
        let x = (number - 2.5) / 1.5 * self.half * 0.66;
        let bow = 1.0 - (x / self.half).powi(2);
        Point::new(x, -self.rise * bow - 2.6)
    }

    fn draw(&self, canvas: &mut Canvas, sounding: f64) {
        let (half, depth) = (self.half, self.depth);
        let mut neck = BezPath::new();
        neck.move_to(Point::new(-half, 6.0));
        neck.curve_to(Point::new(-half, depth * 0.8), Point::new(-half * 0.6, depth), Point::new(0.0, depth));
        neck.curve_to(Point::new(half * 0.6, depth), Point::new(half, depth * 0.8), Point::new(half, 6.0));
        neck.close_path();
        canvas.put(Class::Wood, neck);
        let mut board = BezPath::new();
        board.move_to(Point::new(-half, 0.0));
        board.quad_to(Point::new(0.0, -self.rise * 2.0), Point::new(half, 0.0));
        board.line_to(Point::new(half, 7.0));
        board.quad_to(Point::new(0.0, 8.5), Point::new(-half, 7.0));
        board.close_path();
        canvas.put(Class::Board, board);
        for number in [1.0, 2.0, 3.0, 4.0] {
            let class = if (number - sounding).abs() < 0.5 { Class::Sounding } else { Class::String };
            canvas.disc(class, self.string(number), 1.25);
        }
    }
}

impl NeckSection {
    pub(crate) fn canvas(&self, instrument: Instrument) -> Canvas {
        let neck = Neck::of(instrument);
        match (self.around, instrument) {
            ("ring", _) => self.ring(),
            ("table" | "palm", _) => self.on_a_surface(),
            (_, Instrument::Violin | Instrument::Viola) => self.held_from_below(&neck),
            (_, Instrument::Cello | Instrument::Bass) => self.reached_from_the_side(&neck),
        }
    }

    /// The first finger on its string, and how far its skin is from it.
    fn first_finger(&self, neck: &Neck, root: Point) -> (Finger, Point, f64) {
        let bones = &FINGERS[0];
        let string = neck.string(self.string.round());
        let at = string - Vec2::new(0.0, 0.4);
        let lifted = at - Vec2::new(0.0, self.lift);
        let mut finger = brought(bones, root, lifted - Vec2::new(0.0, bones.radii[3]), self.end_bend, 1.0);
        // From the tip's end over its side to the pad: where the string lies depends on how the finger lies, and that on it.
        for _ in 0..24 {
            let along = finger.end_along();
            let below = Vec2::new(-along.y, along.x);
            let onto = unit(
                Vec2::new(0.0, 1.0) * (1.0 - self.pad / ON_THE_SIDE).max(0.0)
                    + below * (self.pad / ON_THE_SIDE).min(1.0),
            );
            let beyond = (self.pad - ON_THE_SIDE).max(0.0);
            let radius =
                bones.radii[3] + (bones.radii[2] - bones.radii[3]) * beyond / (bones.lengths[2] - bones.radii[3]);
            finger = brought(bones, root, lifted - onto * radius + along * beyond, self.end_bend, 1.0);
        }
        let gap = finger.beside(at);
        (finger, at, gap)
    }

    fn pressed(&self, canvas: &mut Canvas, finger: &Finger, at: Point, gap: f64) {
        canvas.finger(finger);
        canvas.anchor(Part::Knuckles, finger.joints[0]);
        canvas.anchor(Part::Index, finger.joints[2]);
        if self.lift < 0.5 {
            canvas.touch(Part::Index, Place::String, at, gap);
        }
        if self.nail > 0.5 {
            let (along, radius) = (finger.end_along(), finger.tip_radius());
            let across = Vec2::new(-along.y, along.x) * -radius;
            let edge = finger.tip() + across * 0.8 + along * radius * 0.3;
            canvas.line(Class::Ferrule, &[edge, edge + along * (self.nail + radius * 0.4)]);
        }
        if self.squeeze > 20.0 {
            pressure(canvas, finger.tip() + Vec2::new(2.0, -4.0), -50.0);
        }
    }

    fn held_from_below(&self, neck: &Neck) -> Canvas {
        let mut canvas = Canvas::new(150.0, 190.0);
        canvas.origin(78.0, 74.0, 0.0);
        let bones = &FINGERS[0];
        let root = Point::new(-neck.half - bones.radii[0] - self.index_gap, -self.knuckle);
        let (finger, at, gap) = self.first_finger(neck, root);
        let root = finger.joints[0];
        let tip = Point::new(neck.half + THUMB_RADII[2], THUMB_RADII[2] - self.thumb_height);
        let its = thumb(tip + Vec2::new(-1.0, 60.0), tip, self.thumb_bend, 1.0);
        let base = its.joints[0];
        let wrist = Point::new(-6.0 - self.wrist, 68.0);
        let web = Point::new(f64::midpoint(root.x, base.x) + 4.0, neck.depth + self.air);
        let ends = [End::Round, End::Round];
        let hand = [
            limb(&[root, wrist - Vec2::new(7.0, 0.0)], &[bones.radii[0], 15.0], ends),
            limb(&[base, wrist + Vec2::new(7.0, 0.0)], &[THUMB_RADII[0] * 0.92, 15.0], ends),
            blob(
                &[root + Vec2::new(0.0, 22.0), web, base, wrist + Vec2::new(14.0, 0.0), wrist - Vec2::new(14.0, 0.0)],
                true,
            ),
            forearm(wrist, Point::new(-10.0, 170.0) - wrist, 80.0, 0.95),
            its.outline(),
        ];
        // The thumb's far side goes behind the neck, the finger before it.
        canvas.melt(Class::Limb, hand);
        neck.draw(&mut canvas, self.string);
        over_the_neck(&mut canvas, &finger, wrist);
        its.nail(&mut canvas, Vec2::new(1.0, 0.0));
        canvas.line(Class::Guide, &[Point::new(-66.0, 0.0), Point::new(-neck.half - 24.0, 0.0)]);
        let side = Point::new(neck.half, tip.y.clamp(0.0, 8.0));
        canvas.finger(&its);
        canvas.anchor(Part::Thumb, its.joints[1]);
        canvas.touch(Part::Thumb, Place::NeckSide, side, if (0.0..8.0).contains(&tip.y) { its.gap(side) } else { 0.0 });
        if self.index_gap < 0.5 && (-8.0..14.0).contains(&root.y) {
            canvas.touch(Part::Knuckles, Place::BoardEdge, Point::new(-neck.half, root.y.clamp(0.0, 7.0)), 0.0);
        }
        self.common(&mut canvas, &finger, at, gap, web, wrist, neck);
        canvas.label(LabelWord::LeftHand, Point::new(40.0, 106.0));
        canvas
    }

    fn reached_from_the_side(&self, neck: &Neck) -> Canvas {
        let mut canvas = Canvas::new(200.0, 160.0);
        canvas.origin(134.0, 78.0, 0.0);
        let bones = &FINGERS[0];
        let root = Point::new(-neck.half - 27.0 - self.index_gap, -self.knuckle);
        let (finger, at, gap) = self.first_finger(neck, root);
        let root = finger.joints[0];
        let tip = Point::new(
            self.thumb_side,
            neck.depth + THUMB_RADII[2] - 0.2 - (self.thumb_side / neck.half).powi(2) * neck.depth * 0.28,
        );
        let its = thumb(Point::new(-70.0, neck.depth + 26.0), tip, self.thumb_bend, -1.0);
        let base = its.joints[0];
        let wrist = Point::new(root.x - 46.0, 24.0 - self.wrist);
        let web = Point::new(-neck.half - self.air, neck.depth * 0.6);
        let ends = [End::Round, End::Round];
        let hand = [
            limb(&[root, wrist - Vec2::new(0.0, 5.0)], &[bones.radii[0], 15.0], ends),
            limb(&[base, wrist + Vec2::new(0.0, 6.0)], &[THUMB_RADII[0] * 0.95, 15.0], ends),
            blob(&[root, web, base, wrist + Vec2::new(0.0, 14.0), wrist - Vec2::new(0.0, 14.0)], true),
            forearm(wrist, Point::new(-190.0, 50.0) - wrist, 80.0, 0.95),
            its.outline(),
        ];
        canvas.melt(Class::Limb, hand);
        neck.draw(&mut canvas, self.string);
        over_the_neck(&mut canvas, &finger, wrist);
        canvas.finger(&its);
        let at_back = tip - Vec2::new(0.0, THUMB_RADII[2]);
        canvas.anchor(Part::Thumb, its.joints[1]);
        canvas.touch(Part::Thumb, Place::NeckBack, at_back, its.gap(at_back));
        self.common(&mut canvas, &finger, at, gap, web, wrist, neck);
        canvas.label(LabelWord::LeftHand, Point::new(30.0, 70.0));
        canvas
    }

    #[expect(clippy::too_many_arguments, reason = "the places that both kinds of hand have")]
    fn common(&self, canvas: &mut Canvas, finger: &Finger, at: Point, gap: f64, web: Point, wrist: Point, neck: &Neck) {
        canvas.anchor(Part::Palm, web);
        canvas.anchor(Part::Wrist, wrist);
        self.pressed(canvas, finger, at, gap);
        if self.gauge == "finger" {
            // Another finger, seen from its tip, goes through the air.
            let radius = (self.air * 0.42).clamp(2.0, 7.0);
            let middle = if web.x > -neck.half {
                Point::new(web.x - 2.0, neck.depth + self.air * 0.5)
            } else {
                Point::new(-neck.half - self.air * 0.5, neck.depth * 0.6)
            };
            canvas.disc(Class::Ghost, middle, radius);
        }
    }
}

/// The first finger before the neck, without a line where it leaves the hand.
fn over_the_neck(canvas: &mut Canvas, finger: &Finger, wrist: Point) {
    let (root, radius) = (finger.joints[0], FINGERS[0].radii[0]);
    canvas.put(Class::Limb, finger.outline());
    let skin = [root + (wrist - root) * 0.1, root.lerp(finger.joints[1], 0.35)];
    canvas.put(Class::Skin, limb(&skin, &[radius * 0.9, radius * 0.86], [End::Round, End::Round]));
    finger.nail(canvas, Vec2::new(1.0, -0.4));
}
