//! Elements of the picture of a run, which its key explains: marks, dashes, colours.

use newel::glam::Vec3;
use newel::{Event, EventKind};
use plotters::backend::DrawingBackend;
use plotters::coord::Shift;
use plotters::prelude::*;

use super::canvas::{AIR, Drawn, PAPER};
use super::view::Frame;
use crate::trace::Row;

/// The colour of planned routes.
pub(super) const PLANNED: RGBColor = RGBColor(247, 198, 64);

/// True where its shape and the way it points are as they always were.
pub(super) fn is_as_ever(row: &Row, axis: Vec3) -> bool {
    !row.stance.is_low() && row.axis == axis
}

/// Whether a pixel is in the frame.
pub(super) fn inside(frame: &Frame, (x, y): (i32, i32)) -> bool {
    let (w, h) = frame.size();
    (frame.at.0..=frame.at.0 + w as i32).contains(&x) && (frame.at.1..=frame.at.1 + h as i32).contains(&y)
}

/// Cuts a line into dashes of 8 pixels with gaps of 5.
pub(super) fn dashes(points: &[(i32, i32)]) -> Vec<Vec<(i32, i32)>> {
    let (on, off) = (8.0, 5.0);
    let mut pieces = Vec::new();
    let mut piece: Vec<(i32, i32)> = points.first().copied().into_iter().collect();
    let (mut left, mut drawing) = (on, true);
    for pair in points.windows(2) {
        let way = (f64::from(pair[1].0 - pair[0].0), f64::from(pair[1].1 - pair[0].1));
        let length = way.0.hypot(way.1);
        let mut done = 0.0;
        while length - done > left {
            done += left;
            let at = |d: f64| (pair[0].0 + (way.0 * d / length) as i32, pair[0].1 + (way.1 * d / length) as i32);
            if drawing {
                piece.push(at(done));
                pieces.push(std::mem::take(&mut piece));
            } else {
                piece = vec![at(done)];
            }
            drawing = !drawing;
            left = if drawing { on } else { off };
        }
        left -= length - done;
        if drawing {
            piece.push(pair[1]);
        }
    }
    if piece.len() > 1 {
        pieces.push(piece);
    }
    pieces
}

/// Event at a mark.
#[derive(Clone, Copy, PartialEq)]
pub(super) enum MarkKind {
    Jump,
    Fall,
    Land,
    Dash,
    Crush,
    Refusal,
}

/// The mark for an event, where there is one.
pub(super) fn mark_of(event: &Event) -> Option<MarkKind> {
    match event.kind {
        EventKind::Jumped { .. } => Some(MarkKind::Jump),
        EventKind::LeftGround { .. } => Some(MarkKind::Fall),
        EventKind::Landed { .. } => Some(MarkKind::Land),
        EventKind::Dashed => Some(MarkKind::Dash),
        EventKind::Crushed { .. } | EventKind::Stuck => Some(MarkKind::Crush),
        EventKind::Refused { .. } => Some(MarkKind::Refusal),
        _ => None,
    }
}

/// Draws a mark.
pub(super) fn mark<DB: DrawingBackend>(root: &DrawingArea<DB, Shift>, (x, y): (i32, i32), kind: MarkKind) -> Drawn
where
    DB::ErrorType: 'static,
{
    let stroke = |from: (i32, i32), to: (i32, i32), colour: RGBColor, wide: u32| {
        root.draw(&PathElement::new(vec![(x + from.0, y + from.1), (x + to.0, y + to.1)], colour.stroke_width(wide)))
    };
    let strokes: &[[(i32, i32); 2]] = match kind {
        MarkKind::Dash => &[[(-6, -5), (-1, 0)], [(-1, 0), (-6, 5)], [(0, -5), (5, 0)], [(5, 0), (0, 5)]],
        MarkKind::Crush => &[[(-5, -5), (5, 5)], [(-5, 5), (5, -5)]],
        _ => &[],
    };
    for (colour, wide) in [(PAPER, 5), (AIR, 3)] {
        strokes.iter().try_for_each(|[from, to]| stroke(*from, *to, colour, wide))?;
    }
    if kind == MarkKind::Refusal {
        root.draw(&Circle::new((x, y), 5, PAPER.filled()))?;
        root.draw(&Circle::new((x, y), 5, AIR.stroke_width(2)))?;
        stroke((-3, 3), (3, -3), AIR, 2)?;
    }
    let shape = match kind {
        MarkKind::Dash | MarkKind::Crush | MarkKind::Refusal => return Ok(()),
        MarkKind::Jump => vec![(x - 6, y + 5), (x + 6, y + 5), (x, y - 6)],
        MarkKind::Fall => vec![(x - 6, y - 5), (x + 6, y - 5), (x, y + 6)],
        MarkKind::Land => vec![(x - 5, y - 5), (x + 5, y - 5), (x + 5, y + 5), (x - 5, y + 5)],
    };
    let mut rim = shape.clone();
    rim.push(shape[0]);
    root.draw(&Polygon::new(shape, if kind == MarkKind::Land { PAPER.filled() } else { AIR.filled() }))?;
    root.draw(&PathElement::new(
        rim,
        if kind == MarkKind::Land { AIR.stroke_width(2) } else { PAPER.stroke_width(1) },
    ))?;
    Ok(())
}
