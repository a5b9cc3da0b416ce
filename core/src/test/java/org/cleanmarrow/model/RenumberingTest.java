package org.cleanmarrow.model;

import static org.assertj.core.api.Assertions.assertThat;

import java.util.BitSet;
import java.util.List;
import java.util.stream.IntStream;
import org.cleanmarrow.convention.Conventions;
import org.cleanmarrow.measure.MotionProbe;
import org.cleanmarrow.work.Work;
import org.testng.annotations.Test;

/** References follow whatever is taken out, shared or put behind another list. */
public class RenumberingTest {
    private static Mesh mesh(String name, int material) {
        Influences.Builder rows = new Influences.Builder(3);
        for (int v = 0; v < 3; v++) {
            rows.add(1, 1);
            rows.endRow();
        }
        float[] p = {0, 0, 0, 1, 0, 0, 0, 1, 0};
        return Mesh.of(
                name,
                Primitive.triangles(new int[] {0, 1, 2}, p, null, material).withInfluences(rows.build()));
    }

    private static Skin skin(int... joints) {
        return new Skin("s", joints, null, -1, Passthrough.NONE);
    }

    private static Asset asset(List<Node> nodes, List<Mesh> meshes, Skin... skins) {
        return Asset.of("a", Conventions.GLTF, nodes, meshes, List.of(skins), List.of());
    }

    private static Node joint(String name, double x) {
        return Node.group(name, Local.at(x, 0, 0));
    }

    /** Both uses follow their second joint; one of the skins loses its first, and so that joint's position changes there. */
    @Test
    public void aMeshThatTwoSkinsMoveStaysWhereItWasWhenOneLosesAJoint() {
        Asset before = asset(
                List.of(
                        joint("a", 0),
                        joint("b", 1),
                        joint("gone", 2),
                        joint("d", 3),
                        joint("one", 0).withMesh(0, 0),
                        joint("two", 0).withMesh(0, 1)),
                List.of(mesh("m", -1)),
                skin(0, 1),
                skin(2, 3));
        BitSet gone = new BitSet();
        gone.set(2);
        Asset after = before.without(gone);
        assertThat(after.nodes()).extracting(Node::name).containsExactly("a", "b", "d", "one", "two");
        assertThat(after.skins().get(0).joints()).containsExactly(0, 1);
        assertThat(after.skins().get(1).joints()).containsExactly(2);
        for (int use = 0; use < 2; use++) {
            Node node = after.nodes().get(3 + use);
            Influences rows =
                    after.meshes().get(node.mesh()).primitives().getFirst().influences();
            int moved = after.skins().get(node.skin()).joints()[rows.joints()[0]];
            assertThat(after.nodes().get(moved).name()).isEqualTo(use == 0 ? "b" : "d");
        }
        assertThat(after.meshes()).extracting(Mesh::name).doesNotHaveDuplicates();
        assertThat(MotionProbe.compare(before, after, Work.QUIET).jointsMetres())
                .isZero();
    }

    /** Nodes and meshes in one go, where the mesh becomes two. */
    @Test
    public void severalKindsAtOnceDoNotGetInEachOthersWay() {
        Asset before = asset(
                List.of(
                        joint("gone", 0),
                        joint("b", 1),
                        joint("c", 2),
                        joint("d", 3),
                        joint("one", 0).withMesh(1, 0),
                        joint("two", 0).withMesh(1, 1)),
                List.of(mesh("unused", -1), mesh("m", -1)),
                skin(0, 1),
                skin(2, 3));
        BitSet nodes = new BitSet();
        nodes.set(1, 6);
        BitSet meshes = new BitSet();
        meshes.set(1);
        Asset after = before.renumbered(
                Renumbering.NONE.keeping(Renumbering.Kind.NODE, nodes, 6).keeping(Renumbering.Kind.MESH, meshes, 2));
        assertThat(after.meshes()).hasSize(2);
        assertThat(after.nodes().get(3).mesh()).isZero();
        assertThat(after.nodes().get(4).mesh()).isEqualTo(1);
        assertThat(after.meshes().get(0).primitives().getFirst().influences().joints())
                .containsOnly(0);
        assertThat(after.meshes().get(1).primitives().getFirst().influences().joints())
                .containsOnly(1);
    }

    @Test
    public void sharedThingsStandForTheirTwinsAndKeepTheirOrder() {
        Asset before = asset(
                IntStream.range(0, 4)
                        .mapToObj(i -> joint("n" + i, 0).withMesh(i, -1))
                        .toList(),
                List.of(mesh("a", -1), mesh("b", -1), mesh("a again", -1), mesh("c", -1)));
        Asset after = before.renumbered(Renumbering.NONE.sharing(Renumbering.Kind.MESH, new int[] {0, 1, 0, 3}));
        assertThat(after.meshes()).extracting(Mesh::name).containsExactly("a", "b", "c");
        assertThat(after.nodes()).extracting(Node::mesh).containsExactly(0, 1, 0, 2);
        assertThat(before.renumbered(Renumbering.NONE).meshes()).isSameAs(before.meshes());
    }

    /** The form of KHR_materials_variants, "Extending Mesh Primitives": mappings name materials by number. */
    @Test
    public void variantsOfMaterialsFollowTheirMaterials() {
        Passthrough carried = new Passthrough("{\"extensions\":{\"KHR_materials_variants\":{\"mappings\":["
                + "{\"material\":2,\"variants\":[0]},{\"material\":1,\"variants\":[1,2]}]}}}");
        Primitive plain = mesh("m", 0).primitives().getFirst();
        Primitive before = new Primitive(
                plain.mode(),
                plain.indices(),
                plain.positions(),
                null,
                null,
                List.of(),
                plain.influences(),
                List.of(),
                0,
                plain.layout(),
                carried);
        Renumbering behind = Renumbering.NONE.behind(Renumbering.Kind.MATERIAL, 3, 5);
        Primitive after = before.renumbered(behind);
        assertThat(after.material()).isEqualTo(5);
        assertThat(after.carried().extension("KHR_materials_variants").path("mappings"))
                .extracting(m -> m.path("material").asInt())
                .containsExactly(7, 6);
        BitSet kept = new BitSet();
        kept.set(0);
        kept.set(2);
        Primitive fewer = before.renumbered(Renumbering.NONE.keeping(Renumbering.Kind.MATERIAL, kept, 3));
        assertThat(fewer.carried().json())
                .contains("\"material\":1,\"variants\":[0]")
                .doesNotContain("[1,2]");
        kept.clear(2);
        assertThat(before.renumbered(Renumbering.NONE.keeping(Renumbering.Kind.MATERIAL, kept, 3))
                        .carried())
                .isEqualTo(Passthrough.NONE);
        assertThat(before.renumbered(Renumbering.NONE)).isSameAs(before);
    }
}
