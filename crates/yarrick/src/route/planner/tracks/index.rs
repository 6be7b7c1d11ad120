//! Which tracks come near each tract, to find those near both ends of a request without looking at all of them.

/// Maximum number of tracks.
pub(super) const MOST: usize = 512;

/// Numbers of tracks in a word.
const BITS: usize = u64::BITS as usize;

/// For each tract of the map a bit for each track that passes through it, or through one next to it.
#[derive(Clone, Debug, Default)]
pub(super) struct Index(Vec<[u64; MOST / BITS]>);

impl Index {
    /// Adds a track by its number, which comes near some tracts.
    pub(super) fn add(&mut self, track: usize, near: &[u32]) {
        for tract in near {
            let tract = *tract as usize;
            if self.0.len() <= tract {
                self.0.resize(tract + 1, [0; MOST / BITS]);
            }
            self.0[tract][track / BITS] |= 1 << (track % BITS);
        }
    }

    /// Removes a track that was added with the same tracts.
    pub(super) fn remove(&mut self, track: usize, near: &[u32]) {
        for tract in near {
            self.0[*tract as usize][track / BITS] &= !(1 << (track % BITS));
        }
    }

    /// The numbers of the tracks that come near both of two tracts, in order.
    pub(super) fn near_both(&self, tracts: [u32; 2]) -> impl Iterator<Item = usize> {
        let [a, b] = tracts.map(|tract| self.0.get(tract as usize).copied().unwrap_or_default());
        set_bits(a.into_iter().zip(b).map(|(a, b)| a & b))
    }
}

/// The numbers of the bits that are set in some words, in order.
pub(super) fn set_bits(words: impl Iterator<Item = u64>) -> impl Iterator<Item = usize> {
    words.enumerate().flat_map(|(k, mut word)| {
        core::iter::from_fn(move || {
            let bit = (word != 0).then(|| word.trailing_zeros() as usize)?;
            word &= word - 1;
            Some(k * BITS + bit)
        })
    })
}
