//! Floors that are passed from below and stood on from above.

use glam::Vec3;

use super::Facet;
use crate::shape::Core;

/// What leans further over than this, by the cosine of its slope, is always passed; and so is what faces down: the underside of a slab.
const UPRIGHT: f32 = 0.05;

/// For whom which one-way facets are there just now.
///
/// One is there for whoever is all above the plane it lies in, and for nobody else: so what comes through from below has it under its feet
/// once it is through, at whatever moment that is, and nothing of it needs remembering. Only of what moves along with whoever stands on
/// it does it count as above to be within the skin.
#[derive(Clone, Copy, Debug, Default, PartialEq)]
pub(crate) struct OneWay {
    pub up: Vec3,
    /// How deep under its plane still counts as above, metres: hardly.
    pub depth: f32,
    /// The same for what belongs to the body stood on, and which that is.
    pub stood_on: Option<(u16, f32)>,
    /// True while it drops through whatever it stands on.
    pub drops: bool,
}

/// When a facet is there.
#[derive(Clone, Copy, Debug, PartialEq)]
pub(crate) enum There {
    /// Now.
    Now,
    /// Not yet: how far both ends of its cores have yet to rise along this direction.
    Once { rise: (f32, f32), up: Vec3 },
    /// Not while it goes this way.
    Never,
}

impl OneWay {
    /// When a facet is there for a shape: it is all of it that counts.
    #[inline]
    pub fn there(&self, facet: &Facet, cores: &[Core]) -> There {
        if facet.one_way { self.when(facet, cores) } else { There::Now }
    }

    fn when(&self, facet: &Facet, cores: &[Core]) -> There {
        let slope = facet.normal.dot(self.up);
        if self.drops || slope < UPRIGHT {
            return There::Never;
        }
        let depth = self.stood_on.filter(|(body, _)| *body == facet.body).map_or(self.depth, |(_, depth)| depth);
        let lacks = |core: &Core, end: Vec3| core.radius - depth - facet.height_of(end);
        let rises = cores.iter().map(|core| (lacks(core, core.low), lacks(core, core.high)));
        let rise = rises.fold((f32::MIN, f32::MIN), |a, b| (a.0.max(b.0), a.1.max(b.1)));
        if rise.0.max(rise.1) <= 0.0 { There::Now } else { There::Once { rise, up: facet.normal } }
    }

    /// True where a facet is not there for a shape where it is.
    #[inline]
    pub fn is_open(&self, facet: &Facet, cores: &[Core]) -> bool {
        facet.one_way && self.when(facet, cores) != There::Now
    }
}
