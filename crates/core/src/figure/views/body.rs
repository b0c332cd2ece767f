//! The child with the instrument, from the front or from the side: how it stands or sits, how it is brought up, how it plays.

use kurbo::{Point, Vec2};

use crate::instrument::Instrument;
use crate::figure::canvas::Canvas;
use crate::figure::limb::{End, limb, oval, polar};
use crate::figure::parameters::parameters;
use crate::figure::part::{Part, Place};
use crate::figure::people::{ARM, HEAD, SHOULDER, arm, elbow, head, trunk};
use crate::figure::shape::{Class, LabelWord};
use crate::figure::wood::Laid;

parameters! {
    /// The numbers of body and instrument.
    Body {
        word seen ("front", "side") = ["front", "front", "front", "front"], "From where it is seen.";
        word part ("whole", "upper", "lower") = ["whole", "whole", "whole", "whole"], "How much is seen.";
        word pose ("empty", "rest", "tuck", "hand round", "turned", "above", "playing") = ["playing", "playing", "playing", "playing"], "Where the instrument is.";
        word seat ("standing", "chair", "stool") = ["standing", "standing", "chair", "standing"], "Standing or sitting.";
        number lean (-24.0, 30.0, "degrees") = [0.0, 0.0, 0.0, 0.0], "How far the spine is off upright: above 0 forward or to the side.";
        number left_shoulder (-30.0, 55.0, "mm") = [0.0, 0.0, 0.0, 0.0], "How far the left shoulder is lifted; below 0 it slumps.";
        number head_turn (-30.0, 40.0, "degrees") = [16.0, 16.0, 0.0, 0.0], "How far the head is turned to the left.";
        number head_drop (0.0, 60.0, "mm") = [0.0, 0.0, 0.0, 0.0], "How far the head dives to the instrument.";
        number size (85.0, 130.0, "percent") = [100.0, 100.0, 100.0, 100.0], "How large the instrument is for the child.";
        number scroll_out (0.0, 75.0, "degrees") = [45.0, 45.0, 0.0, 0.0], "How far the scroll points to the left of the nose.";
        number scroll_height (-170.0, 80.0, "mm") = [0.0, 0.0, 0.0, 0.0], "How high the scroll is over level.";
        number away (0.0, 90.0, "mm") = [0.0, 0.0, 0.0, 0.0], "How much room there is beside the scroll or behind the body.";
        number slant (-16.0, 22.0, "degrees") = [0.0, 0.0, 7.0, 9.0], "How far the cello or bass leans to the side of the low string.";
        number feet (0.0, 340.0, "mm") = [190.0, 190.0, 330.0, 210.0], "How far the feet are apart.";
        number foot_turn (0.0, 45.0, "degrees") = [8.0, 8.0, 8.0, 10.0], "How far the left foot is turned out.";
        number seat_height (260.0, 620.0, "mm") = [390.0, 390.0, 390.0, 560.0], "How high the chair is.";
        number seat_back (0.0, 190.0, "mm") = [30.0, 30.0, 30.0, 30.0], "How far back it sits.";
        number pin (20.0, 330.0, "mm") = [20.0, 20.0, 190.0, 90.0], "How long the pin is.";
        word left_arm ("hand", "free", "body") = ["hand", "hand", "hand", "hand"], "Where the left hand is: at the neck, away from the instrument, at its body.";
        word bow ("none", "held") = ["none", "none", "none", "none"], "Whether there is a bow.";
        word stand ("none", "eyes", "low") = ["none", "none", "none", "none"], "Whether there is a stand, and how high.";
        number wobble (0.0, 100.0, "percent") = [0.0, 0.0, 0.0, 0.0], "Whether it moves.";
        word measure ("none", "arm", "height") = ["none", "none", "none", "none"], "What is measured.";
    }
}

/// From the floor up.
const HIP: f64 = 640.0;
const KNEE: f64 = 340.0;
const TRUNK: f64 = 420.0;

impl Body {
    pub(crate) fn canvas(&self, instrument: Instrument) -> Canvas {
        let base = self.hip_height() + TRUNK;
        let aside = if self.seen == "side" { 420.0 } else { 300.0 };
        let (mut canvas, middle, floor) = match self.part {
            "upper" => (Canvas::new(680.0, 620.0), aside, base + 300.0),
            "lower" => (Canvas::new(680.0, 680.0), aside + 40.0, 640.0),
            _ => (Canvas::new(820.0, 1480.0), aside + 80.0, 1440.0),
        };
        canvas.origin(middle, floor, 0.0);
        if self.seen == "side" { self.from_the_side(&mut canvas, instrument) } else { self.from_the_front(&mut canvas, instrument) }
        canvas
    }

    fn hip_height(&self) -> f64 {
        match self.seat {
            "chair" | "stool" => self.seat_height + 60.0,
            _ => HIP,
        }
    }

    fn from_the_front(&self, canvas: &mut Canvas, instrument: Instrument) {
        canvas.line(Class::Guide, &[Point::new(-400.0, 0.0), Point::new(430.0, 0.0)]);
        let hip = self.hip_height();
        let sits = self.seat != "standing";
        let lean = self.lean * 5.0;
        let base = Point::new(lean, -hip - TRUNK);
        if sits {
            self.chair_from_the_front(canvas);
        }
        self.legs_from_the_front(canvas, hip, sits);
        let over = kurbo::Affine::translate(base.to_vec2());
        let [chest, shoulders] = trunk(self.left_shoulder, 0.0, TRUNK - 10.0, -lean);
        canvas.melt(Class::Limb, [over * chest, over * shoulders]);
        canvas.anchor(Part::Back, base + Vec2::new(0.0, 170.0));
        canvas.anchor(Part::Shoulder, base + Vec2::new(SHOULDER, -10.0 - self.left_shoulder));
        match instrument {
            Instrument::Violin | Instrument::Viola => self.violin_from_the_front(canvas, instrument, base),
            Instrument::Cello => self.cello_from_the_front(canvas, base, false),
            Instrument::Bass => self.cello_from_the_front(canvas, base, true),
        }
        if self.stand != "none" {
            let y = if self.stand == "eyes" { base.y - 120.0 } else { base.y + 330.0 };
            let x = -290.0;
            canvas.bar(Class::Ferrule, Point::new(x, -10.0), Point::new(x, y), 9.0);
            canvas.area(Class::Board, &[Point::new(x - 62.0, y - 74.0), Point::new(x + 62.0, y - 74.0), Point::new(x + 62.0, y + 70.0), Point::new(x - 62.0, y + 70.0)]);
            canvas.line(Class::Guide, &[Point::new(x + 66.0, base.y - 120.0), Point::new(base.x - 80.0, base.y - 120.0)]);
            canvas.anchor(Part::Stand, Point::new(x, y));
        }
    }

    fn chair_from_the_front(&self, canvas: &mut Canvas) {
        let (half, top) = (if self.seat == "stool" { 120.0 } else { 185.0 }, -self.seat_height);
        for x in [-half + 14.0, half - 14.0] {
            canvas.bar(Class::Wood, Point::new(x, top + 10.0), Point::new(x * 1.06, -8.0), 20.0);
        }
        canvas.bar(Class::Wood, Point::new(-half, top + 8.0), Point::new(half, top + 8.0), 28.0);
    }

    fn legs_from_the_front(&self, canvas: &mut Canvas, hip: f64, sits: bool) {
        let half = self.feet / 2.0;
        let ends = [End::Round, End::Round];
        for side in [-1.0, 1.0] {
            let root = Point::new(side * 62.0, -hip + 10.0);
            let foot = Point::new(side * half, -38.0);
            let knee = if sits { Point::new(side * (half * 0.95 + 14.0), -self.seat_height + 6.0) } else { root.lerp(foot, 0.5) };
            let turn = if side > 0.0 { self.foot_turn } else { 6.0 };
            let toe = foot + Vec2::new(side * (16.0 + turn * 1.5), 24.0 - turn * 0.1);
            canvas.melt(Class::Limb, [
                limb(&[root, knee, foot], &[62.0, 50.0, 30.0], ends),
                limb(&[foot + Vec2::new(0.0, 8.0), toe], &[27.0, 22.0], ends),
            ]);
            canvas.anchor(Part::Knees, knee);
            canvas.touch(Part::Feet, Place::Floor, Point::new(toe.x - side * 8.0, -4.0), 0.0);
        }
    }

    fn turned_head(&self, canvas: &mut Canvas, base: Point, tilt: f64) -> Point {
        let middle = head(canvas, base + Vec2::new(0.0, -2.0), self.head_turn, self.head_drop, tilt);
        canvas.anchor(Part::Head, middle - Vec2::new(0.0, 30.0));
        middle
    }

    fn violin_from_the_front(&self, canvas: &mut Canvas, instrument: Instrument, base: Point) {
        let large = self.size / 100.0 * if instrument == Instrument::Viola { 1.08 } else { 1.0 };
        let left = base + Vec2::new(SHOULDER, 22.0 - self.left_shoulder);
        let right = base + Vec2::new(-SHOULDER, 22.0);
        let down = |side: f64, from: Point| {
            let joint = from + Vec2::new(side * 26.0, ARM[0]);
            (joint, joint + Vec2::new(side * -4.0, ARM[1]))
        };
        let out = self.scroll_out.to_radians().sin();
        let level = Vec2::new(0.34 + out * 0.66, -0.06 - self.scroll_height / 260.0);
        let (laid, left_hand, right_hand) = match self.pose {
            "empty" => (None, None, None),
            "rest" => {
                let laid = Laid { button: base + Vec2::new(-150.0, 250.0), along: Vec2::new(0.82, 0.42), body: 300.0 * large, neck: 165.0, flat: 0.6, bass: false };
                (Some(laid), None, Some(base + Vec2::new(-40.0, 300.0)))
            }
            "tuck" => {
                let laid = Laid { button: base + Vec2::new(-160.0, 230.0), along: Vec2::new(0.9, 0.2), body: 300.0 * large, neck: 165.0, flat: 0.55, bass: false };
                let hand = laid.at(395.0, 18.0);
                (Some(laid), Some(hand), Some(base + Vec2::new(-30.0, 270.0)))
            }
            "hand round" => {
                let laid = Laid { button: base + Vec2::new(-70.0, 150.0), along: Vec2::new(0.92, -0.16), body: 300.0 * large, neck: 165.0, flat: 0.5, bass: false };
                let (hand, button) = (laid.at(370.0, 18.0), laid.button);
                (Some(laid), Some(hand), Some(button))
            }
            "turned" => {
                let laid = Laid { button: base + Vec2::new(-16.0, 120.0), along: Vec2::new(0.9, -0.36), body: 300.0 * large, neck: 165.0, flat: 0.85, bass: false };
                let (hand, button) = (laid.at(370.0, 14.0), laid.button);
                (Some(laid), Some(hand), Some(button))
            }
            "above" => {
                let laid = Laid { button: base + Vec2::new(70.0, -70.0), along: Vec2::new(0.86, -0.18), body: 290.0 * large, neck: 160.0, flat: 0.3, bass: false };
                let (hand, button) = (laid.at(370.0, 16.0), laid.button);
                (Some(laid), Some(hand), Some(button))
            }
            _ => {
                let seen = 150.0 + 130.0 * out;
                let laid = Laid { button: base + Vec2::new(44.0, -14.0 - self.left_shoulder * 0.5 + self.head_drop * 0.4), along: level, body: seen * large, neck: seen * 0.56 * large, flat: 0.26 + (1.0 - out) * 0.3, bass: false };
                let hand = match self.left_arm {
                    "body" => laid.at(laid.body * 0.98, laid.body * 0.2 * laid.flat),
                    _ => laid.at(laid.body + laid.neck * 0.68, 8.0),
                };
                (Some(laid), (self.left_arm != "free").then_some(hand), None)
            }
        };
        let front = matches!(self.pose, "rest" | "tuck" | "hand round" | "turned");
        if front {
            let middle = self.turned_head(canvas, base, 0.0);
            canvas.anchor(Part::Jaw, middle + Vec2::new(20.0, 60.0));
        }
        if let Some(laid) = &laid {
            laid.draw(canvas);
            if self.pose == "turned" {
                // Its back is seen: no board, no strings.
                canvas.put(Class::Wood, laid.outline());
                canvas.line(Class::Nail, &[laid.at(10.0, 0.0), laid.at(laid.body - 10.0, 0.0)]);
            }
            canvas.anchor(Part::Scroll, laid.scroll());
            canvas.anchor(Part::Instrument, laid.at(laid.body * 0.5, 0.0));
        }
        if !front {
            let tilt = if self.pose == "playing" { 5.0 + self.head_drop * 0.2 } else { 0.0 };
            let middle = self.turned_head(canvas, base, tilt);
            if self.pose == "playing" {
                canvas.touch(Part::Jaw, Place::ChinRest, base + Vec2::new(62.0, -40.0 + self.head_drop * 0.6), 0.0);
            } else {
                canvas.anchor(Part::Jaw, middle + Vec2::new(30.0, 50.0));
            }
        }
        let (free_joint, free_hand) = down(1.0, left);
        match left_hand {
            Some(hand) => {
                let wrist = hand + Vec2::new(6.0, 46.0);
                let joint = elbow(left, wrist, 1.0);
                canvas.melt(Class::Limb, arm(left, joint, wrist, hand - Vec2::new(0.0, 12.0)));
                canvas.anchor(Part::Elbow, joint);
            }
            None if self.measure == "arm" => {
                let wrist = left + Vec2::new(225.0, -6.0);
                canvas.melt(Class::Limb, arm(left, left + Vec2::new(118.0, 0.0), wrist, wrist + Vec2::new(66.0, 0.0)));
                let y = left.y - 60.0;
                canvas.line(Class::Guide, &[base + Vec2::new(0.0, -20.0), Point::new(wrist.x + 50.0, y)]);
            }
            None => canvas.melt(Class::Limb, arm(left, free_joint, free_hand, free_hand + Vec2::new(2.0, 70.0))),
        }
        let (right_joint, right_down) = down(-1.0, right);
        match right_hand {
            Some(hand) => {
                let wrist = hand + Vec2::new(-46.0, 6.0);
                canvas.melt(Class::Limb, arm(right, elbow(right, wrist, 1.0), wrist, hand));
            }
            None if self.bow == "held" => {
                let wrist = base + Vec2::new(-150.0, 140.0);
                let contact = base + Vec2::new(120.0, -24.0);
                canvas.bar(Class::Wood, wrist + Vec2::new(26.0, 4.0), contact + (contact - wrist) * 0.7, 8.0);
                canvas.melt(Class::Limb, arm(right, elbow(right, wrist, 1.0), wrist, wrist + Vec2::new(40.0, -8.0)));
            }
            None => canvas.melt(Class::Limb, arm(right, right_joint, right_down, right_down + Vec2::new(-2.0, 70.0))),
        }
        if self.wobble > 20.0 {
            let at = base + Vec2::new(330.0, -90.0);
            canvas.line(Class::Nail, &[at, at + Vec2::new(26.0, 26.0), at + Vec2::new(14.0, 62.0)]);
            canvas.line(Class::Nail, &[at + Vec2::new(34.0, 0.0), at + Vec2::new(60.0, 26.0), at + Vec2::new(48.0, 62.0)]);
        }
        if self.measure == "height" {
            canvas.arrow(Point::new(-340.0, -60.0), Point::new(-340.0, base.y - 220.0));
        }
    }

    fn cello_from_the_front(&self, canvas: &mut Canvas, base: Point, bass: bool) {
        let middle = self.turned_head(canvas, base, 0.0);
        canvas.anchor(Part::Jaw, middle + Vec2::new(20.0, 60.0));
        let large = self.size / 100.0 * if bass { 1.36 } else { 1.0 };
        let (foot_x, lean) = match self.pose {
            "rest" if bass => (150.0, 12.0),
            "rest" => (96.0, 12.0),
            _ => (if bass { 70.0 } else { -14.0 }, self.slant),
        };
        let foot = Point::new(foot_x, -6.0);
        let along = polar(1.0, -90.0 + lean);
        let (body, neck) = (570.0 * large, 390.0 * large * if bass { 0.92 } else { 1.0 });
        let laid = Laid { button: foot + along * self.pin, along, body, neck, flat: 0.9, bass };
        if self.pose != "empty" {
            canvas.bar(Class::Ferrule, foot, laid.button + along * 20.0, 9.0);
            laid.draw(canvas);
            canvas.touch(Part::Pin, Place::Floor, foot, 0.0);
            canvas.anchor(Part::Scroll, laid.scroll());
            canvas.anchor(Part::Instrument, laid.at(body * 0.5, 0.0));
        }
        if self.seat != "standing" && self.pose != "empty" {
            // The knees stand before the ribs.
            let half = self.feet / 2.0;
            for side in [-1.0, 1.0] {
                let knee = Point::new(side * (half * 0.95 + 14.0), -self.seat_height + 6.0);
                let foot = Point::new(side * half, -38.0);
                canvas.put(Class::Limb, limb(&[knee, foot], &[50.0, 30.0], [End::Round, End::Round]));
                canvas.touch(Part::Knees, Place::Bouts, knee - Vec2::new(side * 40.0, 6.0), 0.0);
            }
        }
        let left = base + Vec2::new(SHOULDER, 22.0 - self.left_shoulder);
        let right = base + Vec2::new(-SHOULDER, 22.0);
        let hand = match (self.pose, self.left_arm) {
            ("empty", _) | (_, "free") => None,
            ("rest", _) | (_, "body") => Some(laid.at(body * 0.93, body * 0.2)),
            _ => Some(laid.at(body + neck * 0.52, 14.0)),
        };
        match hand {
            Some(hand) => {
                let wrist = hand + Vec2::new(52.0, 14.0);
                let joint = elbow(left, wrist, 1.0);
                canvas.melt(Class::Limb, arm(left, joint, wrist, hand));
                canvas.anchor(Part::Elbow, joint);
                canvas.anchor(Part::Wrist, wrist);
            }
            None => {
                let joint = left + Vec2::new(60.0, ARM[0] * 0.94);
                let wrist = joint + Vec2::new(44.0, ARM[1] * 0.94);
                canvas.melt(Class::Limb, arm(left, joint, wrist, wrist + Vec2::new(10.0, 66.0)));
                canvas.anchor(Part::Elbow, joint);
            }
        }
        let joint = right + Vec2::new(-50.0, ARM[0] * 0.95);
        let wrist = joint + if self.bow == "held" { Vec2::new(40.0, 180.0) } else { Vec2::new(-6.0, ARM[1]) };
        if self.bow == "held" {
            canvas.bar(Class::Wood, wrist + Vec2::new(-6.0, 20.0), Point::new(wrist.x + 420.0, wrist.y + 6.0), 9.0);
        }
        canvas.melt(Class::Limb, arm(right, joint, wrist, wrist + Vec2::new(14.0, 60.0)));
        let breast = base + Vec2::new(0.0, 100.0);
        match (self.pose, bass) {
            ("empty" | "rest", _) => canvas.anchor(Part::Back, breast),
            (_, false) => {
                if self.away < 30.0 {
                    canvas.touch(Part::Instrument, Place::Breastbone, laid.at(body * 0.98, -4.0), 0.0);
                }
            }
            (_, true) => canvas.touch(Part::Instrument, Place::Hip, Point::new(70.0, -self.hip_height() - 30.0), 0.0),
        }
        if self.pose == "playing" && !bass {
            // The open hand's room between scroll and ear.
            let scroll = laid.scroll();
            canvas.line(Class::Guide, &[Point::new(middle.x + HEAD.x, scroll.y.min(middle.y + 40.0)), Point::new(scroll.x - 24.0, scroll.y.min(middle.y + 40.0))]);
        }
        if self.wobble > 20.0 {
            let at = laid.scroll() + Vec2::new(50.0, 0.0);
            canvas.line(Class::Nail, &[at, at + Vec2::new(26.0, 26.0), at + Vec2::new(14.0, 62.0)]);
        }
        if self.measure == "height" {
            canvas.arrow(Point::new(-340.0, -60.0), Point::new(-340.0, base.y - 220.0));
        }
        canvas.label(LabelWord::LeftHand, left + Vec2::new(130.0, 300.0));
    }

    /// From the child's left: it looks to the left of the drawing.
    fn from_the_side(&self, canvas: &mut Canvas, instrument: Instrument) {
        canvas.line(Class::Guide, &[Point::new(-400.0, 0.0), Point::new(430.0, 0.0)]);
        let sits = self.seat != "standing";
        let hip_up = self.hip_height();
        let hip = Point::new(if sits { self.seat_back } else { 40.0 }, -hip_up);
        let ends = [End::Round, End::Round];
        if sits {
            let top = -self.seat_height;
            canvas.bar(Class::Wood, Point::new(-30.0, top + 8.0), Point::new(300.0, top + 8.0), 28.0);
            canvas.bar(Class::Wood, Point::new(0.0, top + 20.0), Point::new(-8.0, -8.0), 20.0);
            canvas.bar(Class::Wood, Point::new(280.0, top + 20.0), Point::new(296.0, -8.0), 20.0);
            if self.seat == "chair" {
                canvas.bar(Class::Wood, Point::new(290.0, top), Point::new(320.0, top - 360.0), 20.0);
            }
        }
        let lean = self.lean.to_radians();
        let base = hip + Vec2::new(-lean.sin() * TRUNK, -lean.cos() * TRUNK);
        let foot = if sits { Point::new(hip.x - 300.0 + (hip.x - 30.0) * 0.3, -34.0) } else { Point::new(40.0, -34.0) };
        let knee = if sits {
            let drop = (hip_up - KNEE).clamp(-20.0, 130.0);
            Point::new(foot.x + 16.0, hip.y + drop.min(foot.y - hip.y - 200.0))
        } else {
            Point::new(34.0, -KNEE)
        };
        canvas.melt(Class::Limb, [
            limb(&[hip, knee, foot], &[68.0, 52.0, 30.0], ends),
            limb(&[foot, foot + Vec2::new(-90.0, 12.0)], &[26.0, 20.0], ends),
        ]);
        canvas.touch(Part::Feet, Place::Floor, foot + Vec2::new(-40.0, 32.0), 0.0);
        canvas.anchor(Part::Knees, knee);
        let skull = base + Vec2::new(-14.0 - lean.sin() * 80.0 - self.head_drop * 1.1, -124.0 + self.head_drop * 0.8);
        canvas.melt(Class::Limb, [
            limb(&[base + Vec2::new(0.0, 48.0), base.lerp(hip, 0.55), hip], &[80.0, 84.0, 84.0], ends),
            limb(&[base + Vec2::new(0.0, 20.0), skull + Vec2::new(10.0, 20.0)], &[34.0, 34.0], ends),
            oval(skull, Vec2::new(80.0, 92.0), 0.0),
            limb(&[skull + Vec2::new(-76.0, -4.0), skull + Vec2::new(-88.0, 12.0)], &[6.0, 9.0], ends),
        ]);
        canvas.anchor(Part::Head, skull);
        canvas.anchor(Part::Back, base.lerp(hip, 0.5) + Vec2::new(70.0, 0.0));
        canvas.line(Class::Guide, &[Point::new(hip.x, hip.y + 30.0), Point::new(hip.x, hip.y - TRUNK - 240.0)]);
        let shoulder = base + Vec2::new(6.0, 34.0 - self.left_shoulder);
        canvas.anchor(Part::Shoulder, shoulder);
        let hand = match instrument {
            Instrument::Violin | Instrument::Viola => {
                let from = base + Vec2::new(-40.0, -28.0 + self.head_drop * 0.3);
                let along = Vec2::new(-1.0, -self.scroll_height / 330.0 - 0.03);
                let laid = Laid { button: from, along, body: 2.5 * self.size, neck: 1.4 * self.size, flat: 0.2, bass: false };
                if self.pose != "empty" {
                    laid.draw(canvas);
                    canvas.anchor(Part::Scroll, laid.scroll());
                    canvas.touch(Part::Jaw, Place::ChinRest, from + Vec2::new(-16.0, -14.0), 0.0);
                }
                (self.pose != "empty" && self.left_arm != "free").then(|| laid.at(3.38 * self.size, 12.0))
            }
            Instrument::Cello | Instrument::Bass => {
                let bass = instrument == Instrument::Bass;
                let large = self.size / 100.0 * if bass { 1.36 } else { 1.0 };
                let breast = base + Vec2::new(-92.0 - self.away, 96.0);
                let foot = Point::new(breast.x - if bass { 60.0 } else { 250.0 }, -4.0);
                let along = (breast - foot).normalize();
                let laid = Laid { button: foot + along * self.pin, along, body: 570.0 * large, neck: 380.0 * large, flat: 0.34, bass };
                if self.pose != "empty" {
                    canvas.bar(Class::Ferrule, foot, laid.button, 9.0);
                    laid.draw(canvas);
                    canvas.touch(Part::Pin, Place::Floor, foot, 0.0);
                    canvas.anchor(Part::Scroll, laid.scroll());
                    if self.away < 20.0 {
                        canvas.touch(Part::Instrument, if bass { Place::Hip } else { Place::Breastbone }, breast, 0.0);
                    } else {
                        canvas.anchor(Part::Instrument, breast);
                    }
                }
                (self.pose != "empty" && self.left_arm != "free").then(|| laid.at(laid.body + laid.neck * 0.5, 10.0))
            }
        };
        match hand {
            Some(hand) => {
                let wrist = hand + Vec2::new(24.0, 40.0);
                let joint = elbow(shoulder, wrist, -1.0);
                canvas.melt(Class::Limb, arm(shoulder, joint, wrist, hand - Vec2::new(4.0, 10.0)));
                canvas.anchor(Part::Elbow, joint);
            }
            None => {
                let wrist = shoulder + Vec2::new(-30.0, ARM[0] + ARM[1] - 10.0);
                canvas.melt(Class::Limb, arm(shoulder, shoulder + Vec2::new(6.0, ARM[0]), wrist, wrist + Vec2::new(-8.0, 66.0)));
            }
        }
        if self.stand != "none" {
            let y = if self.stand == "eyes" { skull.y } else { skull.y + 420.0 };
            let x = -352.0;
            canvas.bar(Class::Ferrule, Point::new(x, -10.0), Point::new(x, y + 60.0), 9.0);
            canvas.bar(Class::Board, Point::new(x - 20.0, y + 80.0), Point::new(x - 44.0, y - 80.0), 14.0);
            canvas.line(Class::Guide, &[Point::new(x - 20.0, y), Point::new(skull.x - 90.0, skull.y)]);
            canvas.anchor(Part::Stand, Point::new(x - 30.0, y));
        }
    }
}
