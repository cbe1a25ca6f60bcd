//! Buttons, and which of them are down.

/// A button that the tick knows.
#[derive(Clone, Copy, Debug, PartialEq, Eq, Hash)]
#[cfg_attr(feature = "serde", derive(serde::Serialize, serde::Deserialize))]
#[non_exhaustive]
#[repr(u8)]
pub enum Button {
    /// Jumps when pressed on the ground, or in the air where that is tuned; held, it rises to the full height.
    Jump = 0,
    /// Sprints while held.
    Sprint = 1,
    /// Dashes when pressed.
    Dash = 2,
    /// Slides when pressed at a run.
    Slide = 3,
    /// Begins to hover when pressed, and ends it.
    Hover = 4,
    /// Takes hold of what is in reach when pressed, lets itself down over an edge, and lets go.
    Grab = 5,
    /// Drops through the one-way floor that it stands on, when pressed.
    Drop = 6,
}

impl Button {
    /// Every button there is.
    pub const ALL: &'static [Button] =
        &[Button::Jump, Button::Sprint, Button::Dash, Button::Slide, Button::Hover, Button::Grab, Button::Drop];
}

/// Which buttons are down.
#[derive(Clone, Copy, Debug, Default, PartialEq, Eq, Hash)]
#[cfg_attr(feature = "serde", derive(serde::Serialize, serde::Deserialize))]
pub struct Buttons(u8);

impl Buttons {
    /// None of them.
    pub const NONE: Buttons = Buttons(0);

    /// True where `button` is down.
    #[must_use]
    pub fn has(self, button: Button) -> bool {
        self.0 & (1 << button as u8) != 0
    }

    /// The same with `button` down or up.
    #[must_use]
    pub fn with(self, button: Button, down: bool) -> Buttons {
        let bit = 1 << button as u8;
        Buttons(if down { self.0 | bit } else { self.0 & !bit })
    }

    /// One bit a button, in the order of [`Button`].
    #[must_use]
    pub fn bits(self) -> u8 {
        self.0
    }
}
