//! Tables: parallel lists, one row a thing, each declared once.
//!
//! The declaration of a table generates adding and removing rows, what goes into the checksum, what
//! is saved and loaded, and the comparison of two worlds. So a new column cannot be forgotten in any
//! of them.

use super::digest::{Digest, word};
use crate::geom::Vec2;
use core::fmt::Debug;
use serde::Serialize;

/// A list of values of the state, one a row.
pub(crate) trait Column {
    /// How many rows it has.
    fn rows(&self) -> usize;
    /// Adds all values to a checksum.
    fn feed(&self, digest: &mut Digest);
    /// The bytes of one value, as they go into the checksum.
    fn bytes(&self, row: usize) -> Vec<u8>;
    /// One value, for people.
    fn show(&self, row: usize) -> String;
}

/// A value of a column. How it goes into the checksum follows from its serde form; a type that is hashed for every unit
/// in every tick may say the same by a shorter way.
pub(crate) trait Value: Serialize + Debug {
    /// Adds it to a checksum.
    #[inline]
    fn feed(&self, digest: &mut Digest) {
        digest.add(self);
    }

    /// Adds all values of a column to a checksum: the same bytes as one after another.
    #[inline]
    fn feed_all(values: &[Self], digest: &mut Digest)
    where
        Self: Sized,
    {
        for value in values {
            value.feed(digest);
        }
    }
}

impl Value for f32 {
    #[inline]
    fn feed(&self, digest: &mut Digest) {
        digest.put(self.to_le_bytes());
    }

    fn feed_all(values: &[f32], digest: &mut Digest) {
        digest.put_each(values.iter().map(|value| value.to_le_bytes()));
    }
}

impl Value for bool {
    #[inline]
    fn feed(&self, digest: &mut Digest) {
        digest.put([u8::from(*self)]);
    }

    fn feed_all(values: &[bool], digest: &mut Digest) {
        digest.put_each(values.iter().map(|value| [u8::from(*value)]));
    }
}

impl Value for Vec2 {
    #[inline]
    fn feed(&self, digest: &mut Digest) {
        // One write rather than two: this is most of what is hashed.
        digest.put_words([word(self.x.to_bits(), self.y.to_bits())]);
    }

    fn feed_all(values: &[Vec2], digest: &mut Digest) {
        let words = values.iter().map(|at| word(at.x.to_bits(), at.y.to_bits()));
        digest.put_each(words.map(u64::to_le_bytes));
    }
}

/// Types of columns whose serde form is all there is to say.
macro_rules! plain {
    ($($Type:ty),* $(,)?) => {
        $( impl crate::world::state::table::Value for $Type {} )*
    };
}
pub(crate) use plain;

plain!(u8, u32, u64);

impl<T: Value> Value for Option<T> {}

impl<T: Value> Column for Vec<T> {
    fn rows(&self) -> usize {
        self.len()
    }

    fn feed(&self, digest: &mut Digest) {
        digest.add(&(self.len() as u32));
        T::feed_all(self, digest);
    }

    fn bytes(&self, row: usize) -> Vec<u8> {
        self.get(row).map(Digest::bytes_of).unwrap_or_default()
    }

    fn show(&self, row: usize) -> String {
        self.get(row)
            .map_or_else(String::new, |value| format!("{value:?}"))
    }
}

/// A single value, as a column of one row.
pub(crate) struct Single<'a, T>(pub(crate) &'a T);

impl<T: Serialize + Debug> Column for Single<'_, T> {
    fn rows(&self) -> usize {
        1
    }

    fn feed(&self, digest: &mut Digest) {
        digest.add(self.0);
    }

    fn bytes(&self, _: usize) -> Vec<u8> {
        Digest::bytes_of(self.0)
    }

    fn show(&self, _: usize) -> String {
        format!("{:?}", self.0)
    }
}

/// What looks at every column of the state in turn: table, column, values.
pub(crate) type Visitor<'a> = dyn FnMut(&'static str, &'static str, &dyn Column) + 'a;

/// Declares a table: `table Name of Row by Id { column: Type, … }`. Each row has an id that is never
/// used again.
macro_rules! table {
    (
        $(#[$about:meta])*
        table $Table:ident of $Row:ident by $Id:ty {
            $( $(#[$doc:meta])* $column:ident : $Type:ty , )*
        }
    ) => {
        $(#[$about])*
        #[derive(Clone, Debug, Default, Serialize, Deserialize)]
        pub(crate) struct $Table {
            handles: Handles<$Id>,
            /// The id of each row.
            pub(crate) id: Vec<$Id>,
            $( $(#[$doc])* pub(crate) $column: Vec<$Type>, )*
        }

        /// The values of a new row.
        #[derive(Clone, Debug)]
        pub(crate) struct $Row {
            $( pub(crate) $column: $Type, )*
        }

        impl $Table {
            pub(crate) fn len(&self) -> usize {
                self.id.len()
            }

            /// The row of an id, or `None` where it names nothing any more.
            pub(crate) fn row(&self, id: $Id) -> Option<usize> {
                self.handles.row(id)
            }

            pub(crate) fn add(&mut self, row: $Row) -> $Id {
                let id = self.handles.issue(self.len() as u32);
                self.id.push(id);
                $( self.$column.push(row.$column); )*
                id
            }

            /// Takes a row out; the last one moves into its place.
            pub(crate) fn remove(&mut self, row: usize) {
                let id = self.id.swap_remove(row);
                self.handles.retire(id);
                $( self.$column.swap_remove(row); )*
                if let Some(&moved) = self.id.get(row) {
                    self.handles.relocate(moved, row as u32);
                }
            }

            /// Shows every column to `visit`.
            pub(crate) fn visit(&self, visit: &mut Visitor<'_>) {
                let (slots, free) = self.handles.lists();
                visit(stringify!($Table), "slots", slots);
                visit(stringify!($Table), "free slots", free);
                visit(stringify!($Table), "id", &self.id);
                $( visit(stringify!($Table), stringify!($column), &self.$column); )*
            }

            /// Whether all columns are as long as each other and the handles fit: for what was read from a file.
            pub(crate) fn is_consistent(&self) -> bool {
                let count = self.len();
                self.handles.fits(&self.id) $( && self.$column.len() == count )*
            }
        }
    };
}
pub(crate) use table;
