package org.cleanmarrow.checks.skin;

import java.util.ArrayList;
import java.util.BitSet;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import org.cleanmarrow.examination.Check;
import org.cleanmarrow.examination.Examination;
import org.cleanmarrow.examination.Finding;
import org.cleanmarrow.examination.Severity;
import org.cleanmarrow.examination.Station;
import org.cleanmarrow.model.Asset;
import org.cleanmarrow.model.Mesh;
import org.cleanmarrow.roles.BodyRegion;
import org.cleanmarrow.steps.skin.MarkRegions;
import org.cleanmarrow.surface.MeshTopology;
import org.cleanmarrow.weights.RegionMarks;
import org.cleanmarrow.weights.Worn;
import org.jspecify.annotations.Nullable;

/**
 * Of meshes whose triangles belong to regions of the body ({@link RegionMarks}): those that belong to none, as when parts with and
 * without are joined, and those that no neighbour belongs with, as a slip of a brush leaves them.
 */
public final class RegionFaults implements Check {
    @Override
    public String id() {
        return "regions";
    }

    @Override
    public Station station() {
        return Station.SKIN;
    }

    @Override
    public List<Finding> run(Examination examination) {
        Asset asset = examination.asset();
        List<Finding> out = new ArrayList<>();
        for (int m = 0; m < asset.meshes().size(); m++) {
            Mesh mesh = asset.meshes().get(m);
            if (RegionMarks.on(mesh)) {
                Found found = Found.in(mesh);
                String name = asset.meshRef(m);
                if (found.without > 0) {
                    Finding finding = Finding.of(
                                    this,
                                    Severity.CAUTION,
                                    "",
                                    name,
                                    found.without,
                                    found.without,
                                    name,
                                    found.triangles)
                            .at(Finding.Place.mesh(m, found.bare));
                    out.add(canMark(asset, m) ? finding.fixedBy(new MarkRegions(name, true)) : finding);
                }
                if (found.alone > 0) {
                    out.add(Finding.of(this, Severity.NOTE, "alone", name, found.alone, found.alone, name)
                            .at(Finding.Place.mesh(m, found.lone)));
                }
            }
        }
        return out;
    }

    private static boolean canMark(Asset asset, int m) {
        int skin = asset.skinOfMesh(m);
        return skin >= 0
                && asset.meshes().get(m).skinned()
                && Worn.regionsOfJoints(asset, asset.skins().get(skin)).length > 0;
    }

    /**
     * @param without triangles of no region, of which bare are the vertices
     * @param alone   triangles whose region no neighbour has, of which lone are the vertices
     */
    private record Found(int triangles, int without, BitSet bare, int alone, BitSet lone) {
        static Found in(Mesh mesh) {
            @Nullable BodyRegion[] marks = RegionMarks.of(mesh);
            MeshTopology topology = MeshTopology.of(mesh);
            int[] corners = topology.corners();
            Map<Long, List<Integer>> across = new HashMap<>();
            int[] of = new int[corners.length / 3];
            // Where three regions meet, a triangle may have a corner in each: it is of one of them, and no slip.
            BitSet meeting = new BitSet();
            int without = 0;
            BitSet bare = new BitSet();
            for (int t = 0; t < of.length; t++) {
                int a = corners[3 * t];
                int b = corners[3 * t + 1];
                int c = corners[3 * t + 2];
                BodyRegion region = RegionMarks.of(marks, a, b, c);
                of[t] = region == null ? -1 : region.ordinal();
                meeting.set(t, marks[a] != marks[b] && marks[b] != marks[c] && marks[c] != marks[a]);
                if (region == null) {
                    without++;
                    bare.set(a);
                    bare.set(b);
                    bare.set(c);
                }
                for (int i = 0; i < 3; i++) {
                    across.computeIfAbsent(edge(topology, corners, t, i), k -> new ArrayList<>(2))
                            .add(t);
                }
            }
            int alone = 0;
            BitSet lone = new BitSet();
            for (int t = 0; t < of.length; t++) {
                int beside = 0;
                int alike = 0;
                for (int i = 0; i < 3; i++) {
                    for (int other : across.getOrDefault(edge(topology, corners, t, i), List.of())) {
                        beside += other == t ? 0 : 1;
                        alike += other != t && of[other] == of[t] ? 1 : 0;
                    }
                }
                if (of[t] >= 0 && !meeting.get(t) && beside > 1 && alike == 0) {
                    alone++;
                    lone.set(corners[3 * t]);
                    lone.set(corners[3 * t + 1]);
                    lone.set(corners[3 * t + 2]);
                }
            }
            return new Found(of.length, without, bare, alone, lone);
        }

        private static long edge(MeshTopology topology, int[] corners, int t, int i) {
            int a = topology.weldedOf(corners[3 * t + i]);
            int b = topology.weldedOf(corners[3 * t + (i + 1) % 3]);
            return (long) Math.min(a, b) << 32 | Math.max(a, b);
        }
    }
}
