//! How much one call may work, counted in places: the same on every machine.

/// The call has used its budget. The next call repeats the same unit of work, over what has been surveyed until then.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub(crate) struct OutOfBudget;

/// Cost of one trial tick, in places, and the closest-point queries that cost one more.
pub(crate) const TRIAL_TICK: u64 = 3;
pub(crate) const QUERIES_A_PLACE: u64 = 4;
/// And what one surveyed facet counts for.
pub(crate) const FACETS_A_PLACE: u64 = 4;

/// Work done and allowed, in places.
#[derive(Clone, Copy, Debug)]
pub(crate) struct Budget {
    pub spent: u64,
    allowed: u64,
}

impl Budget {
    pub fn of(places: usize) -> Budget {
        Budget { spent: 0, allowed: places as u64 }
    }

    pub fn unlimited() -> Budget {
        Budget { spent: 0, allowed: u64::MAX }
    }

    pub fn spend(&mut self, places: u64) {
        self.spent = self.spent.saturating_add(places);
    }

    /// An error once all of it is spent.
    pub fn check(&self) -> Result<(), OutOfBudget> {
        if self.spent < self.allowed { Ok(()) } else { Err(OutOfBudget) }
    }
}
