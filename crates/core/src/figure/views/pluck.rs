//! The plucking hand: from above the end of the fingerboard, or along the strings.

use kurbo::{BezPath, Point, Vec2};

use super::bow_hand::pressure;
use crate::figure::canvas::Canvas;
use crate::figure::hand::{FINGERS, Finger, THUMB_RADII, bent, thumb};
use crate::figure::limb::{End, degrees, limb, unit};
use crate::figure::parameters::parameters;
use crate::figure::part::{Part, Place};
use crate::figure::shape::{Class, LabelWord};
use crate::instrument::Instrument;

parameters! {
    /// The numbers of the plucking hand.
    Pluck {
        word seen ("above", "along") = ["above", "above", "above", "above"], "From above, or along the strings.";
        word thumb ("corner", "side", "string", "free") = ["corner", "corner", "side", "side"], "Where the thumb is braced.";
        word finger ("index", "middle", "thumb") = ["index", "index", "index", "index"], "Which finger plucks.";
        number over (-46.0, 60.0, "mm") = [22.0, 22.0, 34.0, 40.0], "How far over the fingerboard, from its end; below 0 it is where the bow runs.";
        number string (1.0, 4.0, "count") = [3.0, 2.0, 2.0, 2.0], "Which string, 1 the highest.";
        number pull (0.0, 90.0, "degrees") = [0.0, 0.0, 0.0, 0.0], "Which way it draws: 0 sideways, 90 up.";
        number nail (0.0, 8.0, "mm") = [0.0, 0.0, 0.0, 0.0], "How far a nail stands out.";
        number curl (0.0, 100.0, "percent") = [100.0, 100.0, 100.0, 100.0], "How far the other fingers are out of the way.";
        number bend (0.0, 60.0, "degrees") = [22.0, 22.0, 22.0, 22.0], "Bend of the plucking finger's end joint.";
    }
}

impl Pluck {
    pub(crate) fn canvas(&self, instrument: Instrument) -> Canvas {
        let half = match instrument {
            Instrument::Violin | Instrument::Viola => 19.0,
            Instrument::Cello => 27.0,
            Instrument::Bass => 36.0,
        };
        if self.seen == "along" { self.along_the_strings() } else { self.seen_from_above(half) }
    }

    fn seen_from_above(&self, half: f64) -> Canvas {
        let mut canvas = Canvas::new(190.0, 116.0 + half * 1.7);
        canvas.origin(104.0, half + 10.0, 0.0);
        let string_y = |number: f64| (2.5 - number) / 1.5 * half * 0.66;
        let string = self.string.round();
        let at = Point::new(-self.over, string_y(string));
        self.strings_from_above(&mut canvas, half, at, string_y);
        let thumb_plucks = self.finger == "thumb";
        let root = Point::new(at.x + 44.0, half + 40.0);
        let plucking = self.plucking(root, at);
        let braced = match self.thumb {
            _ if thumb_plucks => at + Vec2::new(2.0, THUMB_RADII[2] * 0.7),
            "corner" => Point::new(-2.0, half + THUMB_RADII[2]),
            "side" => Point::new((-self.over + 4.0).clamp(-50.0, -8.0), half * 0.97 + THUMB_RADII[2]),
            "string" => Point::new(-self.over + 22.0, string_y((string - 1.0).max(1.0)) + 5.0),
            _ => Point::new(-self.over + 34.0, half + 30.0),
        };
        let its = thumb(Point::new(root.x - 10.0, root.y + 60.0), braced, 22.0, -1.0);
        self.hand_from_above(&mut canvas, root, half, &its);
        if thumb_plucks {
            canvas.put(Class::Limb, its.outline());
            its.nail_above(&mut canvas);
        } else {
            canvas.over_the_palm(&plucking);
            plucking.nail_above(&mut canvas);
            self.long_nail(&mut canvas, &plucking);
        }
        let part = match self.finger {
            "index" => Part::Index,
            "middle" => Part::Middle,
            _ => Part::Thumb,
        };
        canvas.touch(part, Place::String, at, 0.0);
        let edge = braced - Vec2::new(0.0, THUMB_RADII[2]);
        match self.thumb {
            _ if thumb_plucks => {}
            "corner" | "side" => canvas.touch(Part::Thumb, Place::BoardEdge, edge, 0.0),
            "string" => canvas.touch(Part::Thumb, Place::NextString, braced, 0.0),
            _ => canvas.anchor(Part::Thumb, braced),
        }
        canvas.arrow(at + Vec2::new(-16.0, -4.0), at + Vec2::new(-16.0, 18.0));
        let left = canvas.frame().x0;
        canvas.label(LabelWord::Board, Point::new(left + 24.0, -half + 8.0));
        canvas.label(LabelWord::RightHand, Point::new(left + 34.0, half + 30.0));
        canvas
    }

    /// Fingerboard, bridge and strings; the one that is plucked is drawn sideways.
    fn strings_from_above(&self, canvas: &mut Canvas, half: f64, at: Point, string_y: impl Fn(f64) -> f64) {
        let (left, right) = (canvas.frame().x0, canvas.frame().x1);
        let (far, wide) = (half * 0.9, half * 1.2);
        let board = [Point::new(left, -far), Point::new(0.0, -half), Point::new(0.0, half), Point::new(left, far)];
        canvas.area(Class::Board, &board);
        let bridge = [Point::new(66.0, -wide), Point::new(72.0, -wide), Point::new(72.0, wide), Point::new(66.0, wide)];
        canvas.area(Class::Wood, &bridge);
        for number in [1.0, 2.0, 3.0, 4.0] {
            let y = string_y(number);
            let sounding = (number - self.string.round()).abs() < 0.5;
            let class = if sounding { Class::Sounding } else { Class::Hair };
            let drawn = if sounding { 3.5 * (1.0 - self.pull / 90.0) } else { 0.0 };
            let line = [Point::new(left, y), Point::new(at.x, y + drawn), Point::new(right, y)];
            canvas.put(class, limb(&line, &[0.4 + number * 0.12; 3], [End::Cut, End::Cut]));
        }
    }

    /// The finger that plucks, from the lower right over the board.
    fn plucking(&self, root: Point, at: Point) -> Finger {
        let bones = if self.finger == "middle" { &FINGERS[1] } else { &FINGERS[0] };
        let tip = at + Vec2::new(1.0, bones.radii[3] * 0.7);
        let (bend, end) = (root.lerp(tip, 0.5) + Vec2::new(4.0, -4.0), root.lerp(tip, 0.8) + Vec2::new(4.0, -3.0));
        Finger { joints: vec![root, bend, end, tip], lengths: Vec::new(), radii: bones.radii.to_vec() }
    }

    /// Thumb, back of the hand, and the other fingers: curled in, or hanging over the strings.
    fn hand_from_above(&self, canvas: &mut Canvas, root: Point, half: f64, its: &Finger) {
        let wrist = Point::new(root.x + 26.0, half + 84.0);
        let foot = canvas.frame().y1;
        let ends = [End::Round, End::Round];
        let knuckles = [(0.0, 0.0), (14.0, 2.0), (28.0, 8.0), (36.0, 18.0)].map(|(x, y)| root + Vec2::new(x, y));
        canvas.put(Class::Limb, its.outline());
        canvas.melt(
            Class::Limb,
            [
                limb(&knuckles, &[10.0, 10.0, 9.0, 8.0], ends),
                limb(&[root, wrist], &[12.0, 20.0], ends),
                limb(&[root + Vec2::new(34.0, 16.0), wrist], &[10.0, 20.0], ends),
                limb(&[its.joints[0], wrist], &[11.0, 18.0], ends),
                limb(&[wrist, Point::new(wrist.x + 6.0, foot)], &[20.0, 20.0], [End::Round, End::Cut]),
            ],
        );
        let open = (100.0 - self.curl) / 100.0 * 26.0;
        let curled = |at: f64| Point::new(root.x + 14.0 * at, root.y + 3.0 * at - 13.0 - open);
        for step in [3.0, 2.0, 1.0] {
            let from = Point::new(root.x + 13.0 * step, root.y + 5.0 * step);
            let to = curled(step) + Vec2::new(-open * 0.4, 2.0 * step);
            canvas.put(Class::Limb, limb(&[from, to], &[8.6, 7.4], ends));
            canvas.put(Class::Skin, limb(&[from + Vec2::new(2.0, 8.0), from], &[7.4, 7.0], ends));
        }
        canvas.anchor(Part::Ring, curled(2.0));
        canvas.anchor(Part::Wrist, wrist);
    }

    fn long_nail(&self, canvas: &mut Canvas, plucking: &Finger) {
        if self.nail < 0.5 {
            return;
        }
        let along = plucking.end_along();
        let end = plucking.tip() + along * plucking.tip_radius();
        let across = Vec2::new(-along.y, along.x) * 3.4;
        let (root, edge) = (end - along * 2.0, end + along * self.nail);
        canvas.area(Class::Ferrule, &[root - across, edge - across * 0.7, edge + across * 0.7, root + across]);
    }

    /// Along the strings: whether it draws sideways or lifts, with flesh or with the nail.
    fn along_the_strings(&self) -> Canvas {
        let mut canvas = Canvas::new(130.0, 100.0);
        canvas.origin(52.0, 72.0, 0.0);
        let half = 26.0;
        let mut board = BezPath::new();
        board.move_to(Point::new(-half, 0.0));
        board.quad_to(Point::new(0.0, -15.0), Point::new(half, 0.0));
        board.line_to(Point::new(half, 8.0));
        board.quad_to(Point::new(0.0, 10.0), Point::new(-half, 8.0));
        board.close_path();
        canvas.put(Class::Board, board);
        let string = self.string.round();
        let place = |number: f64| {
            let x = (2.5 - number) / 1.5 * half * 0.68;
            Point::new(x, -7.5 * (1.0 - (x / half).powi(2)) - 4.5)
        };
        for number in [1.0, 2.0, 3.0, 4.0] {
            let class = if (number - string).abs() < 0.5 { Class::Sounding } else { Class::String };
            canvas.disc(class, place(number), 1.7);
        }
        // The finger from the upper right, its side at the string.
        let on = place(string);
        let up = self.pull / 90.0;
        let bones = &FINGERS[0];
        let aside = unit(Vec2::new(-1.0 + 0.55 * up, -0.1 + 0.95 * up));
        let tip = on + aside * (bones.radii[3] + 1.7);
        let bends = [44.0, self.bend + 18.0 + 30.0 * up];
        let turned = bent(bones, Point::ZERO, 150.0 - self.bend * 0.2 - 9.6 + 3.0 * up, bends, -1.0);
        let root = tip - turned.tip().to_vec2();
        let its = bent(bones, root, degrees(turned.joints[1] - turned.joints[0]), bends, -1.0);
        canvas.put(Class::Limb, its.outline());
        its.nail(&mut canvas, Vec2::new(-1.0, -0.3));
        canvas.finger(&its);
        if self.nail > 0.5 {
            let along = its.end_along();
            let end = its.tip() + along * its.tip_radius() * 0.7;
            canvas.line(Class::Ferrule, &[end - Vec2::new(4.0, 0.0), end + along * self.nail]);
        }
        canvas.touch(Part::Index, Place::String, on, (its.gap(on) - 1.7).abs());
        let start = on + Vec2::new(0.0, -30.0);
        let to = start + Vec2::new(30.0 * (1.0 - up), -26.0 * up);
        canvas.arrow(start, to);
        if up > 0.5 {
            pressure(&mut canvas, on - Vec2::new(0.0, 2.0), -120.0);
        }
        canvas.anchor(Part::String, on);
        canvas
    }
}
