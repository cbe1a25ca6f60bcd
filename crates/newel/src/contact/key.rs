//! The name of an obstacle, which outlives the patch that it was found in.

use super::sweep::Obstacle;
use crate::fingerprint::{Fingerprint, Fingerprinted};
use crate::terrain::Patch;

/// Which facet or round, by the names that the terrain gives it; none as the default.
#[derive(Clone, Copy, Debug, Default, PartialEq, Eq, Hash)]
#[cfg_attr(feature = "serde", derive(serde::Serialize, serde::Deserialize))]
pub(crate) struct ObstacleKey {
    kind: Kind,
    /// Its number within its body.
    id: u32,
    /// The two halves of the body's name, so that a key takes 16 bytes.
    body: [u32; 2],
}

#[derive(Clone, Copy, Debug, Default, PartialEq, Eq, Hash)]
#[cfg_attr(feature = "serde", derive(serde::Serialize, serde::Deserialize))]
enum Kind {
    #[default]
    None,
    Facet,
    Round,
}

impl ObstacleKey {
    /// The name of an obstacle of this patch.
    pub fn of(patch: &Patch, obstacle: Obstacle) -> ObstacleKey {
        let (kind, id, body) = match obstacle {
            Obstacle::Facet(index) => (Kind::Facet, patch.facets[index].id, patch.facets[index].body),
            Obstacle::Round(index) => (Kind::Round, patch.rounds[index].id, patch.rounds[index].body),
        };
        let body = patch.body_name(body);
        ObstacleKey { kind, id, body: [body as u32, (body >> 32) as u32] }
    }

    /// True where it names something.
    pub fn is_some(&self) -> bool {
        self.kind != Kind::None
    }

    /// The obstacles of a patch that have this name: none or one, unless the terrain gives one name to several.
    pub fn find(self, patch: &Patch) -> impl Iterator<Item = Obstacle> {
        let name = (u64::from(self.body[0]) | u64::from(self.body[1]) << 32, self.id);
        // The patch is sorted by these names.
        let facets = (self.kind == Kind::Facet).then(|| {
            let from = patch.facets.partition_point(|facet| (patch.body_name(facet.body), facet.id) < name);
            let same = patch.facets[from..].iter().take_while(|f| (patch.body_name(f.body), f.id) == name).count();
            (from..from + same).map(Obstacle::Facet)
        });
        let rounds = (self.kind == Kind::Round).then(|| {
            let from = patch.rounds.partition_point(|round| (patch.body_name(round.body), round.id) < name);
            let same = patch.rounds[from..].iter().take_while(|r| (patch.body_name(r.body), r.id) == name).count();
            (from..from + same).map(Obstacle::Round)
        });
        facets.into_iter().flatten().chain(rounds.into_iter().flatten())
    }
}

impl Fingerprinted for ObstacleKey {
    fn feed(&self, print: &mut Fingerprint) {
        print.u64(self.kind as u64 | u64::from(self.id) << 8);
        print.u64(u64::from(self.body[0]) | u64::from(self.body[1]) << 32);
    }
}

/// Of these so many are known to the next tick.
const MOST_KNOWN: usize = 4;

/// Keys of the walls that were in effect at the end of the last slice.
#[derive(Clone, Copy, Debug, Default, PartialEq, Eq, Hash)]
#[cfg_attr(feature = "serde", derive(serde::Serialize, serde::Deserialize))]
pub struct KnownWalls([ObstacleKey; MOST_KNOWN]);

impl Fingerprinted for KnownWalls {
    fn feed(&self, print: &mut Fingerprint) {
        self.0.iter().take_while(|key| key.is_some()).for_each(|key| key.feed(print));
    }
}

impl KnownWalls {
    /// The keys that `key` gives, by number.
    pub(crate) fn of(key: impl Fn(usize) -> ObstacleKey) -> KnownWalls {
        KnownWalls(core::array::from_fn(key))
    }

    /// The keys.
    pub(crate) fn iter(&self) -> impl Iterator<Item = &ObstacleKey> {
        self.0.iter().take_while(|key| key.is_some())
    }
}
