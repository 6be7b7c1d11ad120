//! What differs first between two worlds.

use super::World;
use super::state::table::Visitor;
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

/// A column as it is compared: its name, and the bytes of each row.
struct Read {
    table: &'static str,
    column: &'static str,
    rows: Vec<Vec<u8>>,
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
        here.iter().zip(&there).find_map(|(mine, theirs)| {
            let rows = mine.rows.len().max(theirs.rows.len());
            let row = (0..rows).find(|row| mine.rows.get(*row) != theirs.rows.get(*row))?;
            let (table, column) = (mine.table, mine.column);
            Some(Difference {
                table,
                column,
                row,
                left: self.show(table, column, row),
                right: other.show(table, column, row),
            })
        })
    }

    fn columns(&self) -> Vec<Read> {
        let mut found = Vec::new();
        self.visit(&mut |table, column, values| {
            let rows = (0..values.rows()).map(|row| values.bytes(row)).collect();
            found.push(Read {
                table,
                column,
                rows,
            });
        });
        found
    }

    /// A value, for people; empty where there is no such row.
    fn show(&self, table: &str, column: &str, row: usize) -> String {
        let mut shown = String::new();
        self.visit(&mut |of, name, values| {
            if (of, name) == (table, column) && row < values.rows() {
                shown = values.show(row);
            }
        });
        shown
    }

    /// Shows every column of the state to `visit`.
    fn visit(&self, visit: &mut Visitor<'_>) {
        self.state.visit(visit);
        self.minds.visit(visit);
        self.minds.visit_labels(visit);
        self.inbox.visit(visit);
    }
}
