//! What carries the instrument: the room under the jaw on violin and viola, the pin on cello and bass.

use kurbo::{BezPath, Point, Vec2};

use crate::figure::canvas::Canvas;
use crate::figure::limb::{End, limb, oval};
use crate::figure::parameters::parameters;
use crate::figure::part::{Part, Place};
use crate::figure::shape::Class;
use crate::figure::wood::Laid;
use crate::instrument::Instrument;

parameters! {
    /// The numbers of the support.
    Support {
        word kind ("bare", "sponge", "rest") = ["sponge", "sponge", "bare", "bare"], "What fills the room.";
        number gap (0.0, 30.0, "mm") = [0.0, 0.0, 0.0, 0.0], "Room that is left between jaw and chin rest.";
        number shoulder (0.0, 34.0, "mm") = [0.0, 0.0, 0.0, 0.0], "How far the shoulder is pulled up.";
        number head (0.0, 26.0, "degrees") = [4.0, 4.0, 0.0, 0.0], "How far the head leans over.";
        number press (0.0, 100.0, "percent") = [0.0, 0.0, 0.0, 0.0], "How hard the jaw presses.";
        number pin (40.0, 340.0, "mm") = [40.0, 40.0, 220.0, 130.0], "How long the pin is.";
        word anchor ("none", "stop") = ["stop", "stop", "stop", "stop"], "What keeps the pin from sliding.";
        word marked ("none", "shown") = ["shown", "shown", "shown", "shown"], "Whether the length that worked is marked on the pin.";
    }
}

impl Support {
    pub(crate) fn canvas(&self, instrument: Instrument) -> Canvas {
        match instrument {
            Instrument::Violin | Instrument::Viola => self.under_the_jaw(),
            Instrument::Cello => self.on_a_pin(1.0),
            Instrument::Bass => self.on_a_pin(1.35),
        }
    }

    /// From the front: head, neck, collarbone, shoulder, and the instrument seen from its end.
    fn under_the_jaw(&self) -> Canvas {
        let mut canvas = Canvas::new(330.0, 320.0);
        canvas.origin(118.0, 190.0, 0.0);
        let lift = self.shoulder;
        let ends = [End::Round, End::Round];
        let low = canvas.frame().y1;
        let lean = self.head;
        let skull = Point::new(4.0 + lean * 1.5, -100.0 - self.gap + lean * 0.5);
        let jaw = skull + Vec2::new(20.0 + lean * 0.5, 52.0);
        let chest = limb(&[Point::new(-10.0, 60.0), Point::new(-10.0, low)], &[104.0, 104.0], [End::Round, End::Cut]);
        let shoulders = limb(
            &[Point::new(-78.0, 44.0), Point::new(4.0, 26.0), Point::new(142.0, 48.0 - lift)],
            &[34.0, 44.0, 38.0],
            ends,
        );
        let arm =
            limb(&[Point::new(150.0, 48.0 - lift), Point::new(168.0, low)], &[36.0, 32.0], [End::Round, End::Cut]);
        let neck = limb(&[Point::new(-6.0, 40.0), skull], &[35.0, 33.0], ends);
        canvas.melt(Class::Limb, [chest, arm, shoulders, neck, oval(skull, Vec2::new(62.0, 76.0), lean)]);
        // The collarbone, a fine line.
        canvas.line(
            Class::Nail,
            &[Point::new(6.0, 10.0), Point::new(62.0, 6.0 - lift * 0.4), Point::new(124.0, 20.0 - lift)],
        );
        // The instrument from its end: flat, resting on the collarbone, its far edge a little lower.
        let (near, far) = (Point::new(30.0, -22.0), Point::new(178.0, -8.0 - lift * 0.5));
        let body = limb(&[near, far], &[14.0, 14.0], ends);
        let under = near.lerp(far, 0.62) + Vec2::new(0.0, 14.0);
        match self.kind {
            "sponge" => {
                let foot = 24.0 - lift * 0.9;
                canvas.area(
                    Class::Soft,
                    &[
                        near.lerp(far, 0.3) + Vec2::new(0.0, 12.0),
                        near.lerp(far, 0.82) + Vec2::new(0.0, 12.0),
                        Point::new(148.0, foot),
                        Point::new(78.0, foot - 6.0),
                    ],
                );
            }
            "rest" => {
                let foot = 22.0 - lift * 0.9;
                canvas.line(
                    Class::Ferrule,
                    &[near.lerp(far, 0.22) + Vec2::new(0.0, 12.0), near.lerp(far, 0.26) + Vec2::new(0.0, 26.0)],
                );
                canvas.line(
                    Class::Ferrule,
                    &[near.lerp(far, 0.94) + Vec2::new(0.0, 12.0), near.lerp(far, 0.92) + Vec2::new(0.0, 26.0)],
                );
                canvas.put(
                    Class::Soft,
                    limb(
                        &[Point::new(70.0, foot - 6.0), Point::new(110.0, foot - 2.0), Point::new(158.0, foot - 8.0)],
                        &[6.0, 6.0, 6.0],
                        ends,
                    ),
                );
            }
            _ => {}
        }
        canvas.put(Class::Wood, body);
        canvas
            .put(Class::Board, limb(&[near + Vec2::new(2.0, -15.0), near + Vec2::new(48.0, -13.0)], &[6.0, 8.0], ends));
        canvas.anchor(Part::Shoulder, Point::new(142.0, 22.0 - lift));
        canvas.anchor(Part::Head, skull);
        canvas.touch(Part::Instrument, Place::Collarbone, Point::new(42.0, -5.0), 0.0);
        if self.kind == "bare" {
            canvas.anchor(Part::Support, under);
        } else {
            canvas.touch(Part::Support, Place::Shoulder, Point::new(116.0, 20.0 - lift * 0.9), 0.0);
        }
        if self.gap < 0.5 {
            canvas.touch(Part::Jaw, Place::ChinRest, near + Vec2::new(18.0, -22.0), 0.0);
        } else {
            canvas.anchor(Part::Jaw, jaw);
            let rest = near + Vec2::new(26.0, -22.0);
            canvas.put(Class::Guide, {
                let mut path = BezPath::new();
                path.move_to(rest + Vec2::new(46.0, 0.0));
                path.line_to(rest + Vec2::new(46.0, -self.gap));
                path
            });
        }
        if self.press > 20.0 {
            for aside in [0.0, 22.0, 44.0] {
                canvas.arrow(jaw + Vec2::new(-18.0 + aside, -44.0), jaw + Vec2::new(-18.0 + aside, -14.0));
            }
        }
        canvas
    }

    /// The lower end of the instrument with its pin on the floor.
    fn on_a_pin(&self, large: f64) -> Canvas {
        let mut canvas = Canvas::new(460.0, 520.0);
        canvas.origin(230.0, 484.0, 0.0);
        let foot = Point::new(0.0, 0.0);
        let end = Point::new(0.0, -self.pin);
        let body = 560.0 * large;
        Laid { button: end, along: Vec2::new(0.0, -1.0), body, neck: 300.0, flat: 0.9, bass: large > 1.1 }
            .draw(&mut canvas);
        canvas.put(
            Class::Ferrule,
            limb(&[end - Vec2::new(0.0, 6.0), Point::new(0.0, -8.0), foot], &[5.0, 4.0, 1.0], [End::Round, End::Round]),
        );
        canvas.area(
            Class::Board,
            &[
                end + Vec2::new(-13.0, -8.0),
                end + Vec2::new(13.0, -8.0),
                end + Vec2::new(10.0, 8.0),
                end + Vec2::new(-10.0, 8.0),
            ],
        );
        canvas.line(Class::Guide, &[Point::new(-150.0, 0.0), Point::new(150.0, 0.0)]);
        if self.marked == "shown" {
            let y = -self.pin + 16.0;
            canvas.area(
                Class::Marker,
                &[
                    Point::new(-6.0, y - 3.0),
                    Point::new(6.0, y - 3.0),
                    Point::new(6.0, y + 3.0),
                    Point::new(-6.0, y + 3.0),
                ],
            );
        }
        if self.anchor == "stop" {
            canvas.put(
                Class::Soft,
                limb(&[Point::new(-30.0, 7.0), Point::new(30.0, 7.0)], &[7.0, 7.0], [End::Round, End::Round]),
            );
            canvas.touch(Part::Pin, Place::Floor, foot, 0.0);
        } else {
            canvas.anchor(Part::Pin, foot);
            canvas.arrow(Point::new(24.0, -10.0), Point::new(96.0, -10.0));
        }
        canvas.anchor(Part::Support, end);
        canvas
    }
}
