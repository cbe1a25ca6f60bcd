//! Modes of movement and their phases.

/// Mode of movement.
#[derive(Clone, Copy, Debug, Default, PartialEq, Eq, Hash)]
#[cfg_attr(feature = "serde", derive(serde::Serialize, serde::Deserialize))]
#[non_exhaustive]
pub enum Mode {
    /// On ground that carries it.
    Ground,
    /// Falling, jumping, or sliding down what is too steep.
    #[default]
    Air,
    /// Low along ground that carries it, on the speed it had.
    Slide,
    /// Floating: gravity does not pull.
    Hover,
    /// On a ladder, a pole or a wall that gives hold.
    Climb,
    /// Hanging from a ledge, on the way up onto one, or over what is low.
    Ledge,
    /// In water that carries it.
    Swim,
    /// A game's own: see [`CustomMode`](crate::CustomMode).
    Custom,
}

impl Mode {
    /// Every mode there is.
    pub const ALL: [Mode; 8] =
        [Mode::Ground, Mode::Slide, Mode::Air, Mode::Hover, Mode::Climb, Mode::Ledge, Mode::Swim, Mode::Custom];

    /// The modes that this one can change into at once. Into any other it changes by way of the ground or the air, in the same moment:
    /// the table with their causes is in docs/design/modes.md.
    #[must_use]
    pub fn leads_to(self) -> &'static [Mode] {
        match self {
            Mode::Ground => &[Mode::Slide, Mode::Air, Mode::Hover, Mode::Climb, Mode::Ledge, Mode::Swim, Mode::Custom],
            Mode::Air => &[Mode::Ground, Mode::Hover, Mode::Climb, Mode::Ledge, Mode::Swim, Mode::Custom],
            Mode::Swim => &[Mode::Ground, Mode::Air, Mode::Hover, Mode::Climb, Mode::Ledge, Mode::Custom],
            Mode::Slide | Mode::Custom => &[Mode::Ground, Mode::Air],
            Mode::Ledge => &[Mode::Ground, Mode::Air, Mode::Climb],
            Mode::Hover => &[Mode::Ground, Mode::Air, Mode::Custom],
            Mode::Climb => &[Mode::Ground, Mode::Air, Mode::Ledge],
        }
    }

    /// True on ground that carries it.
    #[must_use]
    pub fn is_on_ground(self) -> bool {
        matches!(self, Mode::Ground | Mode::Slide)
    }

    /// True where it holds on to something by its hands.
    #[must_use]
    pub fn holds_on(self) -> bool {
        matches!(self, Mode::Climb | Mode::Ledge)
    }
}

/// Phase of a mode.
#[derive(Clone, Copy, Debug, Default, PartialEq, Eq, Hash)]
#[cfg_attr(feature = "serde", derive(serde::Serialize, serde::Deserialize))]
#[non_exhaustive]
pub enum Phase {
    /// Nothing in particular: walking, standing, falling.
    #[default]
    Plain,
    /// A jump on its way up.
    Rising,
    /// A jump on its way up whose button has been let go.
    Released,
    /// A jump past its top.
    Over,
    /// Sliding down a wall it presses against.
    WallSlide,
    /// A dash.
    Dash,
    /// Shaken by a hard landing.
    Shaken,
    /// Thrown by the game, with its steering weakened or locked.
    Thrown,
    /// The same, until it meets a wall.
    ThrownAtWall,
    /// Has let go of what it held, and takes no hold for a moment.
    LetGo,
    /// Sliding down a ladder or a pole.
    SlidesDown,
    /// From where it caught a ledge to where it hangs.
    Catch,
    /// On the way up onto a ledge.
    PullUp,
    /// On the way over what is low.
    Vault,
    /// On the way down over the edge it stood at.
    LetDown,
    /// Dropping through a one-way floor: none is there for it.
    DropsThrough,
    /// In the air over the edge that a slide went off, to go on where it lands.
    Slide,
}

impl Phase {
    /// Readable name.
    #[must_use]
    pub fn words(self) -> &'static str {
        match self {
            Phase::Plain => "plain",
            Phase::Rising => "rising",
            Phase::Released => "released",
            Phase::Over => "past top",
            Phase::WallSlide => "wall slide",
            Phase::Dash => "dash",
            Phase::Slide => "slide",
            Phase::LetGo => "let go",
            Phase::DropsThrough => "dropping through",
            Phase::SlidesDown => "sliding down",
            Phase::Catch => "catching",
            Phase::PullUp => "pulling up",
            Phase::Vault => "vaulting",
            Phase::LetDown => "letting itself down",
            Phase::Shaken => "shaken",
            Phase::Thrown => "thrown",
            Phase::ThrownAtWall => "thrown at a wall",
        }
    }

    /// True while the game has thrown it and its steering is weakened or locked.
    #[must_use]
    pub fn is_thrown(self) -> bool {
        matches!(self, Phase::Thrown | Phase::ThrownAtWall)
    }

    /// True on a way of its own along a ledge, which lasts as long as it is tuned to.
    #[must_use]
    pub fn is_ledge_move(self) -> bool {
        matches!(self, Phase::Catch | Phase::PullUp | Phase::Vault | Phase::LetDown)
    }

    /// True on the way up of a jump.
    #[must_use]
    pub fn is_rising(self) -> bool {
        matches!(self, Phase::Rising | Phase::Released)
    }
}
