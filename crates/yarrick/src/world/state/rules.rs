//! What is fixed when a world is made.

use super::digest::Digest;
use super::table::{Column, Single, Visitor};
use crate::drill::{Drill, Program};
use crate::world::kind::Kind;
use crate::world::sides::Side;
use serde::{Deserialize, Serialize};

super::table::plain!(Side, Kind, String, Drill);

/// What is fixed when a world is made.
#[derive(Clone, Debug, Serialize, Deserialize)]
pub(crate) struct Rules {
    pub(crate) seed: u64,
    pub(crate) ticks_per_second: u32,
    pub(crate) plan_budget: u32,
    pub(crate) sides: Vec<Side>,
    pub(crate) kinds: Vec<Kind>,
    pub(crate) resources: Vec<String>,
    pub(crate) program: Program,
    /// How many senses, and how many steps, the game adds to the words of drills.
    pub(crate) own_words: (u16, u16),
}

impl Rules {
    /// The checksum of all that is fixed: worked out once.
    pub(crate) fn digest(&self) -> u64 {
        let mut digest: Digest = Digest::default();
        digest.add(self);
        digest.finish()
    }

    pub(super) fn visit(&self, known: u64, visit: &mut Visitor<'_>) {
        let Rules {
            seed,
            ticks_per_second,
            plan_budget,
            sides,
            kinds,
            resources,
            program,
            own_words,
        } = self;
        visit("Rules", "seed", &Single(seed));
        visit("Rules", "ticks_per_second", &Single(ticks_per_second));
        visit("Rules", "plan_budget", &Single(plan_budget));
        visit("Rules", "sides", &Fixed { list: sides, known });
        visit("Rules", "kinds", &Fixed { list: kinds, known });
        let list = resources;
        visit("Rules", "resources", &Fixed { list, known });
        let Program { drills, texts } = program;
        let list = drills;
        visit("Rules", "drills", &Fixed { list, known });
        let list = texts;
        visit("Rules", "drill_texts", &Fixed { list, known });
        visit("Rules", "own_words", &Single(own_words));
    }
}

/// A column that never changes: its checksum is known.
struct Fixed<'a, T> {
    list: &'a Vec<T>,
    known: u64,
}

impl<T> Column for Fixed<'_, T>
where
    Vec<T>: Column,
{
    fn rows(&self) -> usize {
        self.list.rows()
    }

    fn feed(&self, digest: &mut Digest) {
        digest.add(&self.known);
    }

    fn bytes(&self, row: usize) -> Vec<u8> {
        self.list.bytes(row)
    }

    fn show(&self, row: usize) -> String {
        self.list.show(row)
    }
}
