//! How hard it comes down, and what that does.

/// Effects of a landing or a hit: nothing up to a safe speed, and more and more up to the lethal one.
#[derive(Clone, Copy, Debug, PartialEq)]
#[cfg_attr(feature = "serde", derive(serde::Serialize, serde::Deserialize), serde(deny_unknown_fields, default))]
pub struct Impact {
    /// Up to this speed against what is hit it does nothing, metres per second.
    pub safe: f32,
    /// From this speed on it is as hard as can be, metres per second; more than `safe`.
    pub lethal: f32,
    /// How much damage is told for each metre per second over `safe`.
    pub damage: f32,
    /// Factor on the top speed after the hardest landing; 0 locks its input, and jumps.
    pub slowed: f32,
    /// For how long, seconds; less after softer ones.
    pub lasts: f32,
    /// Water this deep takes all of a fall into it, metres, and less of it a part: what is left comes down on the ground.
    pub softened: f32,
    /// Hits on walls and ceilings are told from this speed on, metres per second.
    pub told: f32,
}

impl Default for Impact {
    fn default() -> Impact {
        Impact { safe: 9.0, lethal: 20.0, damage: 10.0, slowed: 1.0, lasts: 0.0, softened: 1.5, told: 2.0 }
    }
}

impl Impact {
    /// How hard a hit at this speed is: 0 up to the safe speed, 1 from the lethal one on.
    #[must_use]
    pub fn hardness(&self, speed: f32) -> f32 {
        ((speed - self.safe) / (self.lethal - self.safe)).clamp(0.0, 1.0)
    }

    /// Damage of a hit at this speed: none up to the safe speed.
    #[must_use]
    pub fn damage_at(&self, speed: f32) -> f32 {
        (speed - self.safe).max(0.0) * self.damage
    }
}
