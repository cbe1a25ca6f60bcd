//! The fields of a tuning, one by one: what each means, its unit and its range. Checks, error messages, files and
//! tables all read this one list.

use super::{Jump, TuningValues};

/// One number of a [`TuningValues`].
pub struct Field {
    /// Its path, as in a file: `ground.speed`.
    pub path: &'static str,
    /// Its unit; empty for a plain number.
    pub unit: &'static str,
    /// The least that is allowed.
    pub least: f32,
    /// The most that is allowed.
    pub most: f32,
    /// What it means, in a few words.
    pub meaning: &'static str,
    /// Reads it; `None` where its table or the field itself is absent.
    pub get: fn(&TuningValues) -> Option<f32>,
    /// Writes it, making its table if there is none.
    pub set: fn(&mut TuningValues, f32),
}

impl core::fmt::Debug for Field {
    fn fmt(&self, f: &mut core::fmt::Formatter<'_>) -> core::fmt::Result {
        write!(f, "{} ({} to {} {})", self.path, self.least, self.most, self.unit)
    }
}

impl PartialEq for Field {
    fn eq(&self, other: &Field) -> bool {
        self.path == other.path
    }
}

fn jump(values: &mut TuningValues) -> &mut Jump {
    values.jump.get_or_insert(Jump { height: 1.0, time_to_top: None })
}

/// Every field of a tuning, in the order of the file.
pub static FIELDS: &[Field] = &[
    Field {
        path: "size.height",
        unit: "m",
        least: 0.01,
        most: 200.0,
        meaning: "height from the feet to the top of the head",
        get: |v| Some(v.size.height),
        set: |v, x| v.size.height = x,
    },
    Field {
        path: "size.radius",
        unit: "m",
        least: 0.002,
        most: 100.0,
        meaning: "radius of the capsule or half the width of the box, at most half the height",
        get: |v| Some(v.size.radius),
        set: |v, x| v.size.radius = x,
    },
    Field {
        path: "ground.speed",
        unit: "m/s",
        least: 0.0,
        most: 1000.0,
        meaning: "top speed along the ground",
        get: |v| Some(v.ground.speed),
        set: |v, x| v.ground.speed = x,
    },
    Field {
        path: "ground.acceleration",
        unit: "m/s²",
        least: 0.0,
        most: 100_000.0,
        meaning: "how fast speed is gained on the ground",
        get: |v| Some(v.ground.acceleration),
        set: |v, x| v.ground.acceleration = x,
    },
    Field {
        path: "ground.deceleration",
        unit: "m/s²",
        least: 0.0,
        most: 100_000.0,
        meaning: "how fast speed is lost on the ground without input",
        get: |v| Some(v.ground.deceleration),
        set: |v, x| v.ground.deceleration = x,
    },
    Field {
        path: "ground.steepest",
        unit: "°",
        least: 0.0,
        most: 85.0,
        meaning: "the steepest slope that can be walked on",
        get: |v| Some(v.ground.steepest),
        set: |v, x| v.ground.steepest = x,
    },
    Field {
        path: "ground.step",
        unit: "m",
        least: 0.0,
        most: 100.0,
        meaning: "the highest step taken in stride, up or down, at most half the height",
        get: |v| Some(v.ground.step),
        set: |v, x| v.ground.step = x,
    },
    Field {
        path: "ground.overhang",
        unit: "",
        least: 0.0,
        most: 0.95,
        meaning: "the part of the radius that the foot's middle may be beyond an edge before it slips off",
        get: |v| Some(v.ground.overhang),
        set: |v, x| v.ground.overhang = x,
    },
    Field {
        path: "ground.uphill",
        unit: "",
        least: 0.05,
        most: 4.0,
        meaning: "the part of the top speed that there is straight up the steepest slope",
        get: |v| Some(v.ground.uphill),
        set: |v, x| v.ground.uphill = x,
    },
    Field {
        path: "ground.downhill",
        unit: "",
        least: 0.05,
        most: 4.0,
        meaning: "the part of the top speed that there is straight down the steepest slope",
        get: |v| Some(v.ground.downhill),
        set: |v, x| v.ground.downhill = x,
    },
    Field {
        path: "ground.step_loss",
        unit: "",
        least: 0.0,
        most: 1.0,
        meaning: "the part of the speed that a step of the full step height costs",
        get: |v| Some(v.ground.step_loss),
        set: |v, x| v.ground.step_loss = x,
    },
    Field {
        path: "ground.fly_off",
        unit: "m",
        least: 0.0,
        most: 100.0,
        meaning: "how high over the ground a crest may throw it before it flies off; it always holds on if left out",
        get: |v| v.ground.fly_off,
        set: |v, x| v.ground.fly_off = Some(x),
    },
    Field {
        path: "air.gravity",
        unit: "m/s²",
        least: 0.0,
        most: 1000.0,
        meaning: "how fast falling gains speed",
        get: |v| Some(v.air.gravity),
        set: |v, x| v.air.gravity = x,
    },
    Field {
        path: "air.acceleration",
        unit: "m/s²",
        least: 0.0,
        most: 100_000.0,
        meaning: "how fast speed across is gained in the air",
        get: |v| Some(v.air.acceleration),
        set: |v, x| v.air.acceleration = x,
    },
    Field {
        path: "air.deceleration",
        unit: "m/s²",
        least: 0.0,
        most: 100_000.0,
        meaning: "how fast speed across is lost in the air without input",
        get: |v| Some(v.air.deceleration),
        set: |v, x| v.air.deceleration = x,
    },
    Field {
        path: "air.carried",
        unit: "",
        least: 0.0,
        most: 1.0,
        meaning: "the part of a moving body's velocity that is kept on leaving it",
        get: |v| Some(v.air.carried),
        set: |v, x| v.air.carried = x,
    },
    Field {
        path: "jump.height",
        unit: "m",
        least: 0.0,
        most: 1000.0,
        meaning: "how high the feet rise in a jump",
        get: |v| v.jump.map(|j| j.height),
        set: |v, x| jump(v).height = x,
    },
    Field {
        path: "jump.time_to_top",
        unit: "s",
        least: 0.01,
        most: 60.0,
        meaning: "how long a jump takes to its top",
        get: |v| v.jump.and_then(|j| j.time_to_top),
        set: |v, x| jump(v).time_to_top = Some(x),
    },
    Field {
        path: "turn.rate",
        unit: "°/s",
        least: 0.0,
        most: 100_000.0,
        meaning: "how fast the body turns toward where it is heading",
        get: |v| Some(v.turn.rate),
        set: |v, x| v.turn.rate = x,
    },
];
