//! The right arm from the front: the elbow's height for each string, the shoulder, the opening of the elbow, the wrist.

use kurbo::{Point, Vec2};

use crate::figure::canvas::Canvas;
use crate::figure::limb::{End, limb, polar};
use crate::figure::parameters::parameters;
use crate::figure::part::{Part, Place};
use crate::figure::people::{SHOULDER, arm, elbow, head, trunk};
use crate::figure::shape::{Class, LabelWord};
use crate::figure::wood::Laid;
use crate::instrument::Instrument;

parameters! {
    /// The numbers of the bow arm.
    BowArm {
        number string (1.0, 4.0, "count") = [3.0, 2.0, 2.0, 2.0], "Which string sounds, 1 the highest.";
        number stroke (0.0, 100.0, "percent") = [45.0, 45.0, 45.0, 45.0], "Where on the bow it plays: 0 at the frog, 100 at the tip.";
        number elbow (-90.0, 90.0, "mm") = [0.0, 0.0, 0.0, 0.0], "How far the elbow is above where it belongs.";
        number shoulder (0.0, 55.0, "mm") = [0.0, 0.0, 0.0, 0.0], "How far the shoulder has climbed.";
        number wrist (-36.0, 36.0, "mm") = [0.0, 0.0, 0.0, 0.0], "How far the wrist is above the line; below 0 it has sunk.";
        number swing (-25.0, 25.0, "degrees") = [0.0, 0.0, 0.0, 0.0], "How far the bow swings round.";
        word bow ("held", "none") = ["held", "held", "held", "held"], "Whether there is a bow.";
        word string_side ("on", "air") = ["on", "on", "on", "on"], "On the string or in the air.";
        word arrow ("none", "down", "up", "both", "elbow", "whole arm") = ["none", "none", "none", "none"], "What moves, and which way.";
        word back ("free", "wall") = ["free", "free", "free", "free"], "Whether the back of the arm is at a wall.";
    }
}

/// Where strings and bow meet, and how the bow slopes.
struct Meeting {
    contact: Point,
    /// Of the bow from frog to tip, in degrees; the tip is on the right.
    slope: f64,
    /// How far the frog goes from the contact over the whole bow.
    length: f64,
}

impl BowArm {
    pub(crate) fn canvas(&self, instrument: Instrument) -> Canvas {
        let mut canvas = Canvas::new(660.0, 640.0);
        canvas.origin(392.0, 262.0, 0.0);
        let violin = matches!(instrument, Instrument::Violin | Instrument::Viola);
        let base = Point::ZERO;
        if !violin {
            head(&mut canvas, base, 0.0, 0.0, 0.0);
        }
        let [chest, shoulders] = trunk(0.0, self.shoulder, 330.0, 0.0);
        canvas.melt(Class::Limb, [chest, shoulders]);
        let meeting = self.instrument(&mut canvas, instrument);
        if violin {
            head(&mut canvas, base, 16.0, 4.0, 6.0);
        }
        let slope = meeting.slope + self.swing;
        let along = polar(1.0, slope);
        let contact = meeting.contact - if self.string_side == "air" { Vec2::new(0.0, 44.0) } else { Vec2::ZERO };
        let frog = contact - along * (24.0 + self.stroke / 100.0 * meeting.length);
        let tip = contact
            + along * (24.0 + (100.0 - self.stroke) / 100.0 * meeting.length).min(canvas.frame().x1 - contact.x - 8.0);
        if self.bow == "held" {
            canvas.put(
                Class::Hair,
                limb(&[frog + Vec2::new(0.0, 7.0), tip + Vec2::new(0.0, 4.0)], &[2.4, 2.4], [End::Cut, End::Cut]),
            );
            canvas.put(Class::Wood, limb(&[frog - along * 22.0, tip], &[4.6, 3.4], [End::Cut, End::Round]));
        }
        let shoulder = Point::new(-SHOULDER, 24.0 - self.shoulder);
        let wrist = frog - along * 44.0 + Vec2::new(-4.0, -26.0 - self.wrist);
        let joint = elbow(shoulder, wrist, 1.0);
        let joint = joint - Vec2::new(0.0, self.elbow);
        if self.back == "wall" {
            let x = (joint.x - 44.0).max(canvas.frame().x0 + 8.0);
            canvas.line(Class::Guide, &[Point::new(x, shoulder.y - 60.0), Point::new(x, shoulder.y + 330.0)]);
        }
        canvas.melt(Class::Limb, arm(shoulder, joint, wrist, frog + along * 10.0));
        canvas.anchor(Part::Shoulder, shoulder - Vec2::new(0.0, 30.0));
        canvas.anchor(Part::Elbow, joint);
        canvas.anchor(Part::Wrist, wrist);
        if self.bow == "held" && self.string_side == "on" {
            canvas.touch(Part::Bow, Place::String, contact, 0.0);
        } else {
            canvas.anchor(Part::Bow, contact);
        }
        match self.arrow {
            "down" => canvas
                .arrow(contact - along * 30.0 - Vec2::new(0.0, 40.0), contact - along * 170.0 - Vec2::new(0.0, 40.0)),
            "up" => canvas
                .arrow(contact - along * 170.0 - Vec2::new(0.0, 40.0), contact - along * 30.0 - Vec2::new(0.0, 40.0)),
            "both" => {
                let middle = contact - along * 100.0 - Vec2::new(0.0, 40.0);
                canvas.arrow(middle, middle - along * 80.0);
                canvas.arrow(middle, middle + along * 80.0);
            }
            "elbow" => {
                canvas.arrow(wrist + Vec2::new(-20.0, 46.0), wrist + Vec2::new(-90.0, 78.0));
            }
            "whole arm" => {
                canvas.arrow(joint + Vec2::new(48.0, 90.0), joint + Vec2::new(48.0, 0.0));
            }
            _ => {}
        }
        canvas.label(LabelWord::RightHand, Point::new(-262.0, 350.0));
        canvas
    }

    fn instrument(&self, canvas: &mut Canvas, instrument: Instrument) -> Meeting {
        let string = self.string - 2.5;
        match instrument {
            Instrument::Violin | Instrument::Viola => {
                let laid = Laid {
                    button: Point::new(52.0, 4.0),
                    along: Vec2::new(1.0, -0.1),
                    body: 150.0,
                    neck: 76.0,
                    flat: 0.3,
                    bass: false,
                };
                laid.draw(canvas);
                Meeting { contact: laid.at(72.0, -6.0), slope: -28.0 + string * 14.0, length: 250.0 }
            }
            Instrument::Cello => {
                let laid = Laid {
                    button: Point::new(16.0, 372.0),
                    along: Vec2::new(0.06, -1.0),
                    body: 300.0,
                    neck: 190.0,
                    flat: 0.86,
                    bass: false,
                };
                laid.draw(canvas);
                Meeting { contact: laid.at(150.0, -string * 5.0), slope: 3.0 - string * 7.0, length: 250.0 }
            }
            Instrument::Bass => {
                let laid = Laid {
                    button: Point::new(60.0, 372.0),
                    along: Vec2::new(0.1, -1.0),
                    body: 360.0,
                    neck: 190.0,
                    flat: 0.86,
                    bass: true,
                };
                laid.draw(canvas);
                Meeting { contact: laid.at(158.0, -string * 6.0), slope: 5.0 - string * 6.0, length: 230.0 }
            }
        }
    }
}
