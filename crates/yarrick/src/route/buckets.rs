//! A queue of whole-number keys that never fall far behind: a ring of buckets.
//!
//! Dial (1969). In a search with a consistent estimate the key of what is put in is never below
//! that of what was taken out last, nor above it by more than the dearest step and back. A ring of
//! so many buckets then holds all keys at once, one a bucket, and no two keys are ever compared:
//!
//! ```text
//!   … | 7016 | 7017 |      | 7019 | …      taken from the smallest key on,
//!         ↑ at                             within a bucket the last one put in first
//! ```
//!
//! The last in is the first out: among equal keys that is the one deepest in the search.

/// The queue. Cleared, it keeps its memory.
#[derive(Clone, Debug, Default)]
pub(crate) struct Buckets {
    /// The entry on top of each bucket, or [`NONE`].
    tops: Vec<u32>,
    /// A bit for each bucket that is not empty, and a bit for each word of these.
    filled: Vec<u64>,
    summary: Vec<u64>,
    entries: Vec<Entry>,
    mask: u64,
    /// The key taken out last.
    at: u64,
    count: usize,
}

#[derive(Clone, Copy, Debug)]
struct Entry {
    node: u32,
    below: u32,
}

const NONE: u32 = u32::MAX;

impl Buckets {
    /// Empties the queue, for keys that lie at most `span` above the last one taken out.
    pub(crate) fn clear(&mut self, span: u64) {
        let size = (span + 1).next_power_of_two().max(4096) as usize;
        if self.tops.len() < size {
            self.tops.clear();
            self.tops.resize(size, NONE);
            self.filled.clear();
            self.filled.resize(size / 64, 0);
            self.summary.clear();
            self.summary.resize(size / 4096, 0);
        } else if self.count > 0 {
            self.empty();
        }
        self.entries.clear();
        self.mask = self.tops.len() as u64 - 1;
        self.at = 0;
        self.count = 0;
    }

    /// The bytes of memory that it holds.
    pub(crate) fn bytes(&self) -> usize {
        let words = self.filled.capacity() + self.summary.capacity() + self.entries.capacity();
        4 * self.tops.capacity() + 8 * words
    }

    /// Empties the buckets that hold something.
    fn empty(&mut self) {
        for (k, word) in self.filled.iter_mut().enumerate() {
            while *word != 0 {
                self.tops[k * 64 + word.trailing_zeros() as usize] = NONE;
                *word &= *word - 1;
            }
        }
        self.summary.fill(0);
    }

    /// Puts a node in. The first key may be any.
    pub(crate) fn push(&mut self, key: u64, node: u32) {
        if self.entries.is_empty() {
            self.at = key;
        }
        debug_assert!((self.at..=self.at + self.mask).contains(&key));
        let bucket = (key & self.mask) as usize;
        let below = self.tops[bucket];
        self.tops[bucket] = self.entries.len() as u32;
        self.entries.push(Entry { node, below });
        self.filled[bucket / 64] |= 1 << (bucket % 64);
        self.summary[bucket / 4096] |= 1 << (bucket / 64 % 64);
        self.count += 1;
    }

    /// Takes out the node with the smallest key, the last one put in first.
    pub(crate) fn pop(&mut self) -> Option<u32> {
        if self.count == 0 {
            return None;
        }
        let bucket = self.next_filled((self.at & self.mask) as usize);
        let ahead = (bucket as u64).wrapping_sub(self.at) & self.mask;
        self.at += ahead;
        let entry = self.entries[self.tops[bucket] as usize];
        self.tops[bucket] = entry.below;
        if entry.below == NONE {
            self.filled[bucket / 64] &= !(1 << (bucket % 64));
            if self.filled[bucket / 64] == 0 {
                self.summary[bucket / 4096] &= !(1 << (bucket / 64 % 64));
            }
        }
        self.count -= 1;
        Some(entry.node)
    }

    /// The first bucket from one on, round the ring, that holds something. There must be one.
    fn next_filled(&self, from: usize) -> usize {
        let word = from / 64;
        let here = self.filled[word] & (u64::MAX << (from % 64));
        if here != 0 {
            return word * 64 + here.trailing_zeros() as usize;
        }
        let word = self.next_word((word + 1) % self.filled.len());
        word * 64 + self.filled[word].trailing_zeros() as usize
    }

    /// The first word of `filled` from one on, round the ring, that is not empty.
    fn next_word(&self, from: usize) -> usize {
        let mut block = from / 64;
        let here = self.summary[block] & (u64::MAX << (from % 64));
        if here != 0 {
            return block * 64 + here.trailing_zeros() as usize;
        }
        loop {
            block = (block + 1) % self.summary.len();
            if self.summary[block] != 0 {
                return block * 64 + self.summary[block].trailing_zeros() as usize;
            }
        }
    }
}
