package org.cleanmarrow.surface;

/** A way to tell which place is which, with what is known at hand. */
abstract class PlaceSearch {
    final PlacePairs known;
    final Faceted template;
    final Faceted edited;
    final float[] was;
    final float[] is;
    final int[] to;
    final int[] back;

    PlaceSearch(PlacePairs known) {
        this.known = known;
        template = known.template();
        edited = known.edited();
        was = known.was();
        is = known.is();
        to = known.to();
        back = known.back();
    }
}
