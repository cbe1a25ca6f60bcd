//! A game's own mode: asked whether it begins, and handed the character while it lasts, with the same tools as the modes here.

mod context;
mod free;
mod walk;

pub use context::{Met, ModeCx};

use super::transitions::{enter, enter_by_ground, take_off_into};
use super::{holding, slide};
use crate::activity::Activity;
use crate::drive::buttons::Buttons;
use crate::outcome::{EventKind, HoldEnd};
use crate::phase::Mode;
use crate::run::Run;

/// The pieces that one call of [`ModeCx::slide`] or [`ModeCx::walk`] moves in at most.
const MOST_PIECES: u32 = 64;

/// A game's own mode. What it keeps is the character's [`custom`](crate::Character::custom): typed, saved, compared and hashed with
/// it. A tick that fails leaves that as it was, too.
///
/// It is asked at the moments at which every mode is: at each change of the intent and each moment of the grid of 1/120 s, so that it
/// does the same at every tick rate. `examples/rope.rs` flies, `examples/sled.rs` keeps to the ground.
///
/// ```
/// use newel::{Button, Character, CustomMode, Intent, Mode, ModeCx, Modifiers, Next, Tick, Tuning, Workspace};
///
/// /// Stands in the air where it is for as long as the grab button is held.
/// #[derive(Clone, Copy, Default)]
/// struct Freeze;
/// impl CustomMode for Freeze {
///     fn begins(&mut self, cx: &ModeCx<'_, '_>) -> bool {
///         cx.pressed(Button::Grab)
///     }
///     fn advance(&mut self, cx: &mut ModeCx<'_, '_>) -> Next {
///         cx.set_velocity(glam::DVec3::ZERO);
///         if cx.held(Button::Grab) { Next::Stay } else { Next::Leave }
///     }
/// }
/// # let level = newel::Mesh::new(&[[-9., 0., -9.], [9., 0., -9.], [0., 0., 9.0f32]], &[0, 1, 2]).unwrap();
/// # let tuning = Tuning::walker();
/// let mut hero = Character::spawn_with(&level, &tuning, [0.0, 3.0, 0.0], Freeze)?;
/// let (mut work, modifiers) = (Workspace::new(), Modifiers::default());
/// let tick = Tick { number: 0, terrain: &level, tuning: &tuning, modifiers: &modifiers, dt: 0.1 };
/// tick.step(&mut work, &mut hero, &Intent::default().hold(Button::Grab), &[])?;
/// assert_eq!((hero.mode, hero.position.y), (Mode::Custom, 3.0));
/// # Ok::<(), Box<dyn std::error::Error>>(())
/// ```
pub trait CustomMode {
    /// Whether it moves the character from now on: asked while another mode does.
    fn begins(&mut self, cx: &ModeCx<'_, '_>) -> bool {
        let _ = cx;
        false
    }

    /// Moves the character for [`ModeCx::span`] seconds; not asked while it is crushed. It moves by [`ModeCx::slide`] through space, by [`ModeCx::walk`] along the ground, or
    /// not at all.
    fn advance(&mut self, cx: &mut ModeCx<'_, '_>) -> Next;

    /// It no longer moves the character, whatever ended it.
    fn ended(&mut self) {}

    /// True where it need not be asked about a character that stands still without input: standing then costs next to nothing.
    fn lets_rest(&self) -> bool {
        false
    }
}

/// No mode of a game's own.
impl CustomMode for () {
    fn advance(&mut self, _cx: &mut ModeCx<'_, '_>) -> Next {
        Next::Leave
    }

    fn lets_rest(&self) -> bool {
        true
    }
}

/// The mode after a piece of a game's own mode.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub enum Next {
    /// It goes on.
    Stay,
    /// It is over, before this piece if nothing was moved in it: on the ground if there is any underfoot, or in the air.
    Leave,
}

/// Asks whether it begins, while another mode moves the character.
pub(super) fn decide(run: &mut Run<'_>, custom: &mut dyn CustomMode) {
    if core::mem::take(&mut run.custom_over) {
        custom.ended();
    }
    if run.me.mode == Mode::Custom || run.is_locked() || run.displaced.is_some() {
        return;
    }
    if custom.begins(&ModeCx::new(run, 0.0)) {
        begin(run);
    }
}

/// From now on it moves the character.
pub(super) fn begin(run: &mut Run<'_>) {
    slide::interrupt(run);
    if run.me.mode.holds_on() {
        holding::end(run, HoldEnd::Interrupted);
    }
    if run.me.is_on_ground() {
        enter(run, Mode::Custom);
        // On foot until it is moved otherwise.
        run.me.activity = Activity::begin(Mode::Ground, 0.0);
    } else {
        take_off_into(run, Mode::Custom);
    }
    run.in_control();
    // The press that began the mode does not end it at once.
    run.pressed = Buttons::NONE;
    run.report(EventKind::CustomBegan);
}

/// Lets it move the character for at most `span` seconds; returns the seconds used.
pub(super) fn advance(run: &mut Run<'_>, custom: &mut dyn CustomMode, span: f64) -> f64 {
    let mut cx = ModeCx::new(run, span);
    let next = custom.advance(&mut cx);
    let used = cx.used;
    if used.is_none() && next == Next::Stay && run.me.is_on_ground() {
        // It stays where it is, whatever becomes of the ground.
        take_off_into(run, Mode::Custom);
    }
    // `after` is called where a piece ends, and not where a tick reads or an intent changes.
    let is_cut = used.is_some_and(|used| used > 0.0 && run.ends_in_a_cut(used));
    if next == Next::Stay || is_cut {
        return used.unwrap_or(span);
    }
    custom.ended();
    run.report(EventKind::CustomEnded);
    if run.me.is_on_ground() {
        enter(run, Mode::Ground);
    } else {
        enter_by_ground(run);
    }
    used.unwrap_or(0.0)
}

/// The game does something else with it.
pub(super) fn interrupt(run: &mut Run<'_>) {
    if run.me.mode == Mode::Custom {
        run.report(EventKind::CustomEnded);
        run.custom_over = true;
        take_off_into(run, Mode::Air);
    }
}

/// Moves by `piece`, which takes the seconds left and returns those it used, until `end` or until it is not to `go_on`; returns the
/// seconds of the last piece.
fn in_pieces(
    run: &mut Run<'_>,
    end: f64,
    mut piece: impl FnMut(&mut Run<'_>, f64) -> f64,
    go_on: impl Fn(&Run<'_>) -> bool,
) -> f64 {
    let mut pieces = 0;
    loop {
        pieces += 1;
        let span = end - run.now();
        let used = piece(run, span);
        // The tick bounds how often it asks, so this returns to it in the end.
        if used >= span || run.is_caught() || pieces == MOST_PIECES || !go_on(run) {
            return used;
        }
        run.pass(used, span);
        run.begin_piece(end - run.now());
    }
}
