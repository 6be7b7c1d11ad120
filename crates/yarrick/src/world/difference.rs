//! What differs first between two worlds.

use super::World;
use super::state::table::Column;
use core::fmt;

/// The first value in which two worlds differ.
#[derive(Clone, Debug, PartialEq, Eq)]
pub struct Difference {
    /// The table of the state.
    pub table: &'static str,
    /// The column of the table.
    pub column: &'static str,
    /// The row, counted from 0. Where one world has fewer rows, the first that it lacks.
    pub row: usize,
    /// The value in the one world; empty where it has none.
    pub left: String,
    /// The value in the other.
    pub right: String,
}

impl fmt::Display for Difference {
    fn fmt(&self, f: &mut fmt::Formatter<'_>) -> fmt::Result {
        let Difference {
            table,
            column,
            row,
            left,
            right,
        } = self;
        write!(
            f,
            "{table}, {column}, row {row}: {left} here, {right} there"
        )
    }
}

/// A column as it is compared.
struct Read {
    table: &'static str,
    column: &'static str,
    values: Vec<(Vec<u8>, String)>,
}

impl World {
    /// The first value in which this world differs from another, table by table and column by column; `None` where
    /// they are the same and will stay so.
    ///
    /// Costs a pass over both worlds, and memory in proportion: for finding out why two runs differ, when their
    /// checksums do.
    ///
    /// ```
    /// # use yarrick::{Ground, Kind, Side, SideId, Terrain, Vec2, World, WorldSetup};
    /// # let ground = Ground::from_rows(1.0, &["........"; 8], &[('.', Terrain::open("sand"))])?;
    /// # let mut here = World::new(WorldSetup {
    /// #     sides: vec![Side::new("keepers")],
    /// #     kinds: vec![Kind::walker("raker", 0.4, 1.5)],
    /// #     ..WorldSetup::on(ground)
    /// # })?;
    /// # let raker = here.kind("raker").unwrap();
    /// use yarrick::world::Change;
    ///
    /// let unit = here.spawn(raker, SideId(0), Vec2::new(2.5, 2.5), 0.0)?;
    /// let mut there = here.clone();
    /// there.change(Change::Harm { unit, damage: 5.0, by: None })?;
    /// here.step();
    /// there.step();
    ///
    /// let difference = here.first_difference(&there).unwrap();
    /// assert_eq!((difference.table, difference.column), ("Units", "health"));
    /// assert_eq!((difference.left.as_str(), difference.right.as_str()), ("100.0", "95.0"));
    /// # Ok::<(), Box<dyn std::error::Error>>(())
    /// ```
    #[must_use]
    pub fn first_difference(&self, other: &World) -> Option<Difference> {
        let (here, there) = (self.columns(), other.columns());
        for (mine, theirs) in here.iter().zip(&there) {
            let rows = mine.values.len().max(theirs.values.len());
            let differs = |row: &usize| {
                let bytes = |read: &Read| read.values.get(*row).map(|(bytes, _)| bytes.clone());
                bytes(mine) != bytes(theirs)
            };
            if let Some(row) = (0..rows).find(differs) {
                let show = |read: &Read| {
                    let value = read.values.get(row);
                    value.map_or_else(String::new, |(_, text)| text.clone())
                };
                return Some(Difference {
                    table: mine.table,
                    column: mine.column,
                    row,
                    left: show(mine),
                    right: show(theirs),
                });
            }
        }
        None
    }

    /// Every column of the state.
    fn columns(&self) -> Vec<Read> {
        let mut found = Vec::new();
        let mut read = |table: &'static str, column: &'static str, values: &dyn Column| {
            let rows = 0..values.rows();
            found.push(Read {
                table,
                column,
                values: rows
                    .map(|row| (values.bytes(row), values.show(row)))
                    .collect(),
            });
        };
        self.state.visit(&mut read);
        self.minds.visit(&mut read);
        self.minds.visit_labels(&mut read);
        self.inbox.visit(&mut read);
        found
    }
}
