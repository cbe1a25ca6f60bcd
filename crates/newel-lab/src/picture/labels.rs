//! Words on a picture, each where there is room: what matters most is written first, and what finds none is left out.

use plotters::backend::DrawingBackend;
use plotters::coord::Shift;
use plotters::prelude::*;

use super::canvas::{Drawn, PAPER, font};
use super::view::Frame;

/// About as wide as a letter is, and as high as a line, pixels.
const LETTER: f64 = 6.4;
const LINE: i32 = 13;

/// Labels written in a frame so far.
pub(super) struct Labels {
    frame: [i32; 4],
    taken: Vec<[i32; 4]>,
    /// Points that words rather not go over.
    avoided: Vec<(i32, i32)>,
}

impl Labels {
    pub fn new(frame: &Frame) -> Labels {
        let (w, h) = frame.size();
        let (x, y) = frame.at;
        Labels { frame: [x + 2, y + 2, x + w as i32 - 2, y + h as i32 - 2], taken: Vec::new(), avoided: Vec::new() }
    }

    /// No words go over the rectangle between these corners.
    pub fn keep_clear(&mut self, (x, y): (i32, i32), (right, bottom): (i32, i32)) {
        self.taken.push([x, y, right, bottom]);
    }

    /// True where nothing is written yet, in the frame: left, top, right, bottom.
    pub fn is_free(&self, rectangle: [i32; 4]) -> bool {
        is_within(rectangle, self.frame) && !self.taken.iter().any(|taken| overlap(*taken, rectangle))
    }

    /// Words go over none of these points where they find another place.
    pub fn avoid(&mut self, points: impl IntoIterator<Item = (i32, i32)>) {
        self.avoided.extend(points);
    }

    /// Writes words at the first of these places, their upper left corners, that is free and in the frame, and covers the fewest of the points
    /// to avoid; else nowhere.
    pub fn write<DB: DrawingBackend>(
        &mut self,
        root: &DrawingArea<DB, Shift>,
        words: &str,
        places: impl IntoIterator<Item = (i32, i32)>,
    ) -> Drawn
    where
        DB::ErrorType: 'static,
    {
        let width = width_of(words.chars().count());
        let rectangle = |(x, y): (i32, i32)| [x, y, x + width, y + LINE];
        let covered =
            |r: [i32; 4]| self.avoided.iter().filter(|p| overlap(r, [p.0 - 2, p.1 - 2, p.0 + 2, p.1 + 2])).count();
        let free = places.into_iter().filter(|place| self.is_free(rectangle(*place)));
        let Some(place) = free.min_by_key(|place| covered(rectangle(*place))) else { return Ok(()) };
        self.taken.push(rectangle(place));
        label(root, place, words)
    }
}

/// About how wide words of so many letters are, pixels.
pub(super) fn width_of(letters: usize) -> i32 {
    (letters as f64 * LETTER).ceil() as i32
}

/// The places for words of so many letters beside a mark: to the right and left of it, over and under it.
pub(super) fn beside((x, y): (i32, i32), letters: usize) -> impl Iterator<Item = (i32, i32)> {
    let width = width_of(letters);
    let middle = x - width / 2;
    let near = [(x + 9, y - 15), (x + 9, y + 2), (x - 9 - width, y - 15), (x - 9 - width, y + 2)];
    let far = [(middle, y - 24), (middle, y + 11), (x + 12, y - 30), (x - 12 - width, y - 30), (x + 12, y + 17)];
    near.into_iter().chain(far)
}

fn is_within(r: [i32; 4], frame: [i32; 4]) -> bool {
    r[0] >= frame[0] && r[1] >= frame[1] && r[2] <= frame[2] && r[3] <= frame[3]
}

fn overlap(a: [i32; 4], b: [i32; 4]) -> bool {
    a[0] < b[2] && b[0] < a[2] && a[1] < b[3] && b[1] < a[3]
}

fn label<DB: DrawingBackend>(root: &DrawingArea<DB, Shift>, at: (i32, i32), text: &str) -> Drawn
where
    DB::ErrorType: 'static,
{
    rimmed(root, at, text, font(12.0))
}

/// Writes words with a pale rim, which keeps them readable on any ground.
pub(super) fn rimmed<DB: DrawingBackend>(
    root: &DrawingArea<DB, Shift>,
    (x, y): (i32, i32),
    words: &str,
    style: TextStyle<'_>,
) -> Drawn
where
    DB::ErrorType: 'static,
{
    for (dx, dy) in [(-1, 0), (1, 0), (0, -1), (0, 1)] {
        root.draw(&Text::new(words.to_owned(), (x + dx, y + dy), style.color(&PAPER)))?;
    }
    root.draw(&Text::new(words.to_owned(), (x, y), style))?;
    Ok(())
}
