//! The bow between bridge and fingerboard: its lane, its angle, and the arm that draws it.

use kurbo::{Point, Vec2};

use crate::figure::canvas::Canvas;
use crate::figure::limb::{End, limb, oval, polar, unit};
use crate::figure::parameters::parameters;
use crate::figure::part::{Part, Place};
use crate::figure::people::{arm, elbow};
use crate::figure::shape::{Class, LabelWord};
use crate::instrument::Instrument;

parameters! {
    /// The numbers of the bow's way. On violin and viola they are seen as the child sees them, on cello and bass as the
    /// director does.
    BowPath {
        word scope ("close", "arm") = ["close", "close", "close", "close"], "How much is seen.";
        number lane (0.0, 140.0, "percent") = [50.0, 50.0, 50.0, 50.0], "Where the bow runs: 0 at the bridge, 100 at the end of the fingerboard.";
        number angle (-32.0, 32.0, "degrees") = [0.0, 0.0, 0.0, 0.0], "How far it is from square; above 0 the tip points to the scroll.";
        number stroke (0.0, 100.0, "percent") = [40.0, 40.0, 40.0, 40.0], "Where on the bow it plays: 0 at the frog, 100 at the tip.";
        number string (1.0, 4.0, "count") = [3.0, 2.0, 2.0, 2.0], "Which string sounds, 1 the highest.";
        word arrow ("none", "down", "up", "both") = ["none", "none", "none", "none"], "Which way it goes.";
        word bow ("on", "away") = ["on", "on", "on", "on"], "Whether the bow is on the string.";
        number swing (0.0, 100.0, "percent") = [30.0, 30.0, 30.0, 30.0], "How far the string swings.";
        word trace ("none", "shown") = ["none", "none", "none", "none"], "Whether rosin shows where it has been.";
    }
}

impl BowPath {
    pub(crate) fn canvas(&self, instrument: Instrument) -> Canvas {
        let above = matches!(instrument, Instrument::Violin | Instrument::Viola);
        if self.scope == "arm" && above { self.with_the_arm() } else { self.close(instrument, above) }
    }

    /// The way from the strings to the frog.
    fn to_frog(&self, above: bool) -> Vec2 {
        if above { polar(1.0, self.angle) } else { polar(1.0, 180.0 - self.angle) }
    }

    fn close(&self, instrument: Instrument, above: bool) -> Canvas {
        let (wide, free) = match instrument {
            Instrument::Violin | Instrument::Viola => (26.0, 52.0),
            Instrument::Cello => (36.0, 84.0),
            Instrument::Bass => (50.0, 116.0),
        };
        let frame = wide * 4.6;
        let mut canvas = Canvas::new(frame, free * 2.5);
        canvas.origin(frame / 2.0, free * 1.3, 0.0);
        let (board, bridge) = (-free / 2.0, free / 2.0);
        let top = canvas.frame().y0;
        let half = wide * 0.62;
        canvas.area(
            Class::Board,
            &[
                Point::new(-half * 0.94, top),
                Point::new(half * 0.94, top),
                Point::new(half, board),
                Point::new(-half, board),
            ],
        );
        let (low, thick) = (canvas.frame().y1, wide * 0.16);
        canvas.area(
            Class::Board,
            &[
                Point::new(-half * 0.6, free * 0.92),
                Point::new(half * 0.6, free * 0.92),
                Point::new(half * 0.5, low),
                Point::new(-half * 0.5, low),
            ],
        );
        canvas.area(
            Class::Wood,
            &[
                Point::new(-half * 1.12, bridge),
                Point::new(half * 1.12, bridge),
                Point::new(half * 1.12, bridge + thick),
                Point::new(-half * 1.12, bridge + thick),
            ],
        );
        let string_x = |number: f64| (2.5 - number) / 1.5 * half * 0.72;
        for number in [1.0, 2.0, 3.0, 4.0] {
            let x = string_x(number);
            let sounding = (number - self.string.round()).abs() < 0.5;
            if sounding && self.bow == "on" {
                // The slim spindle of a string that swings.
                let wide = self.swing / 100.0 * free * 0.07;
                let (up, down) = (Point::new(x * 0.92, top), Point::new(x, bridge));
                let middle = up.midpoint(down);
                let mut spindle = kurbo::BezPath::new();
                spindle.move_to(up);
                spindle.quad_to(middle + Vec2::new(wide * 2.0, 0.0), down);
                spindle.quad_to(middle - Vec2::new(wide * 2.0, 0.0), up);
                spindle.close_path();
                canvas.put(Class::Soft, spindle);
            }
            let class = if sounding { Class::Sounding } else { Class::String };
            canvas.put(
                class,
                limb(
                    &[Point::new(x * 0.92, top), Point::new(x, bridge), Point::new(x * 0.6, free * 0.92)],
                    &[0.5 + number * 0.15; 3],
                    [End::Cut, End::Cut],
                ),
            );
        }
        let middle = Self::lane_at(board, bridge, 50.0);
        for share in [36.0, 64.0] {
            let y = Self::lane_at(board, bridge, share);
            canvas.line(Class::Guide, &[Point::new(-frame * 0.46, y), Point::new(frame * 0.46, y)]);
        }
        let contact = Point::new(string_x(self.string.round()), Self::lane_at(board, bridge, self.lane));
        if self.trace == "shown" {
            canvas.put(Class::Soft, oval(Point::new(contact.x, contact.y), Vec2::new(3.0, free * 0.07), 0.0));
        }
        let along = self.to_frog(above);
        let side = if above { 1.0 } else { -1.0 };
        let to_edge = |x: f64| (x - contact.x) / along.x;
        let (frog, tip) =
            (contact + along * to_edge(side * frame * 0.46), contact + along * to_edge(-side * frame * 0.46));
        let hair = Vec2::new(-along.y, along.x) * free * 0.05 * side;
        if self.bow == "on" {
            canvas.put(
                Class::Hair,
                limb(&[tip + hair, frog + hair], &[free * 0.035, free * 0.035], [End::Cut, End::Cut]),
            );
            canvas.put(Class::Wood, limb(&[tip, frog], &[free * 0.05, free * 0.058], [End::Cut, End::Cut]));
            canvas.touch(Part::Bow, Place::String, contact, 0.0);
        }
        canvas.anchor(Part::String, Point::new(contact.x, middle));
        self.arrows(&mut canvas, contact - Vec2::new(0.0, free * 0.24), along * side, frame * 0.24);
        canvas.label(LabelWord::Bridge, Point::new(-side * frame * 0.33, bridge + thick + 7.0));
        canvas.label(LabelWord::Board, Point::new(-side * frame * 0.36, board - 10.0));
        canvas
    }

    fn lane_at(board: f64, bridge: f64, lane: f64) -> f64 {
        bridge + (board - bridge) * lane / 100.0
    }

    fn arrows(&self, canvas: &mut Canvas, middle: Point, to_right: Vec2, half: f64) {
        let (from, to) = (middle - to_right * half, middle + to_right * half);
        // A down bow moves towards the frog's side.
        match self.arrow {
            "down" => canvas.arrow(from, to),
            "up" => canvas.arrow(to, from),
            "both" => {
                canvas.arrow(middle, to);
                canvas.arrow(middle, from);
            }
            _ => {}
        }
    }

    /// From above, with head, shoulder and arm.
    fn with_the_arm(&self) -> Canvas {
        let mut canvas = Canvas::new(620.0, 520.0);
        canvas.origin(190.0, 190.0, 0.0);
        let shoulder = Point::new(190.0, 216.0);
        canvas.melt(
            Class::Limb,
            [limb(
                &[Point::new(-100.0, 232.0), Point::new(40.0, 252.0), shoulder],
                &[44.0, 60.0, 44.0],
                [End::Round, End::Round],
            )],
        );
        let violin = crate::figure::wood::Laid {
            button: Point::new(0.0, 128.0),
            along: Vec2::new(0.0, -1.0),
            body: 210.0,
            neck: 96.0,
            flat: 0.62,
            bass: false,
        };
        violin.draw(&mut canvas);
        canvas.put(Class::Limb, oval(Point::new(24.0, 188.0), Vec2::new(66.0, 80.0), -12.0));
        let contact = Point::new(2.0, 128.0 - 210.0 * (0.41 + 0.25 * self.lane / 100.0));
        let along = self.to_frog(true);
        let frog = contact + along * (26.0 + self.stroke * 2.9);
        let tip = contact - along * (26.0 + (100.0 - self.stroke) * 1.3).min(150.0);
        canvas.put(Class::Hair, limb(&[tip, frog], &[2.6, 2.6], [End::Cut, End::Cut]));
        canvas.put(
            Class::Wood,
            limb(
                &[tip - Vec2::new(0.0, 5.0), frog - Vec2::new(0.0, 5.0) + along * 22.0],
                &[3.4, 4.4],
                [End::Cut, End::Round],
            ),
        );
        let wrist = frog + along * 34.0 + Vec2::new(6.0, 30.0);
        let joint = elbow(shoulder, wrist, -1.0);
        canvas.melt(Class::Limb, arm(shoulder, joint, wrist, frog - along * 8.0));
        canvas.anchor(Part::Elbow, joint);
        canvas.anchor(Part::Wrist, wrist);
        canvas.anchor(Part::Shoulder, shoulder);
        canvas.touch(Part::Bow, Place::String, contact, 0.0);
        let square = unit(Vec2::new(1.0, 0.0));
        canvas.line(Class::Guide, &[contact - square * 120.0, contact + square * 380.0]);
        self.arrows(&mut canvas, contact + along * 170.0 - Vec2::new(0.0, 40.0), along, 70.0);
        canvas.label(LabelWord::RightHand, frog + Vec2::new(20.0, -48.0));
        canvas
    }
}
