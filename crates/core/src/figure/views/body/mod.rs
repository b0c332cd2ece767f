//! The child with the instrument, from the front or from the side: how it stands or sits, how it is brought up, how it plays.

mod cello;
mod front;
mod side;
mod violin;

use kurbo::Point;

use crate::figure::canvas::Canvas;
use crate::figure::parameters::parameters;
use crate::figure::shape::Class;
use crate::instrument::Instrument;

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

/// From the floor up to the hip of somebody who stands, and to the knee.
const HIP: f64 = 640.0;
const KNEE: f64 = 340.0;
/// From the hip to the base of the neck.
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
        canvas.line(Class::Guide, &[Point::new(-400.0, 0.0), Point::new(430.0, 0.0)]);
        if self.seen == "side" {
            self.seen_from_the_side(&mut canvas, instrument);
        } else {
            self.seen_from_the_front(&mut canvas, instrument);
        }
        canvas
    }

    fn sits(&self) -> bool {
        self.seat != "standing"
    }

    fn hip_height(&self) -> f64 {
        if self.sits() { self.seat_height + 60.0 } else { HIP }
    }
}
