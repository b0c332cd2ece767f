//! What of a body touches what, as words that pages and paper put into sentences.

use crate::worded::worded;

worded! {
    /// A part of a body, of an instrument or of a bow that a drawing can stress.
    Part {
        /// The thumb.
        Thumb = "thumb",
        /// The index.
        Index = "index",
        /// The middle finger.
        Middle = "middle",
        /// The ring finger.
        Ring = "ring",
        /// The little finger.
        Little = "little",
        /// The palm.
        Palm = "palm",
        /// The base knuckles.
        Knuckles = "knuckles",
        /// The wrist.
        Wrist = "wrist",
        /// The elbow.
        Elbow = "elbow",
        /// The shoulder.
        Shoulder = "shoulder",
        /// The jaw.
        Jaw = "jaw",
        /// The head.
        Head = "head",
        /// The back and the spine.
        Back = "back",
        /// The knees.
        Knees = "knees",
        /// The feet.
        Feet = "feet",
        /// The scroll.
        Scroll = "scroll",
        /// The support under the instrument.
        Support = "support",
        /// The pin.
        Pin = "pin",
        /// The stand.
        Stand = "stand",
        /// The bow.
        Bow = "bow",
        /// The hair of the bow.
        Hair = "hair",
        /// The peg.
        Peg = "peg",
        /// The string.
        String = "string",
        /// The hand that helps.
        Helper = "helper",
        /// The instrument.
        Instrument = "instrument",
    }
}

worded! {
    /// What is touched.
    Place {
        /// The string.
        String = "string",
        /// The edge of the fingerboard.
        BoardEdge = "board-edge",
        /// The side of the neck.
        NeckSide = "neck-side",
        /// The back of the neck.
        NeckBack = "neck-back",
        /// The front of the frog.
        FrogFront = "frog-front",
        /// The winding of the stick.
        Wrapping = "wrapping",
        /// The ferrule.
        Ferrule = "ferrule",
        /// The frog's eye.
        FrogEye = "frog-eye",
        /// The frog from below.
        FrogUnder = "frog-under",
        /// The stick.
        Stick = "stick",
        /// The stick from above.
        StickTop = "stick-top",
        /// A pencil.
        Pencil = "pencil",
        /// The thumb.
        Thumb = "thumb",
        /// The next string.
        NextString = "next-string",
        /// The chin rest.
        ChinRest = "chin-rest",
        /// The collarbone.
        Collarbone = "collarbone",
        /// The breastbone.
        Breastbone = "breastbone",
        /// The shoulder.
        Shoulder = "shoulder",
        /// The hip.
        Hip = "hip",
        /// The sides of the cello.
        Bouts = "bouts",
        /// The floor.
        Floor = "floor",
        /// The chair.
        Chair = "chair",
        /// A table.
        Table = "table",
        /// The palm of the other hand.
        OtherPalm = "other-palm",
        /// The neck.
        Neck = "neck",
        /// The body of the instrument.
        Body = "body",
        /// The hair of the bow.
        Hair = "hair",
        /// The head of a peg.
        PegHead = "peg-head",
        /// The screw of the bow.
        Screw = "screw",
    }
}
