package org.cleanmarrow.steps;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import java.util.ArrayList;
import java.util.Arrays;
import java.util.BitSet;
import java.util.List;
import java.util.Map;
import java.util.Set;
import java.util.TreeMap;
import java.util.TreeSet;
import org.cleanmarrow.kit.RandomAssets;
import org.cleanmarrow.measure.MotionProbe;
import org.cleanmarrow.model.Asset;
import org.cleanmarrow.model.Material;
import org.cleanmarrow.model.Passthrough;
import org.cleanmarrow.model.Primitive;
import org.cleanmarrow.steps.intake.MergeMaterials;
import org.cleanmarrow.steps.intake.NamesFrom;
import org.cleanmarrow.steps.intake.OrderMaterials;
import org.cleanmarrow.steps.intake.OwnMaterial;
import org.cleanmarrow.work.Change;
import org.cleanmarrow.work.Refused;
import org.cleanmarrow.work.Step;
import org.cleanmarrow.work.VertexSet;
import org.cleanmarrow.work.Work;
import org.testng.annotations.Test;

/** Slots of a mesh are its primitives in their order (glTF 2.0, section 3.7.2): put in order, named as another's, made fewer. */
public class SlotOrderTest {
    private static Asset done(Asset asset, Step step) throws Refused {
        return step.apply(asset, Work.QUIET).asset();
    }

    /** A figure in three slots: what is left of its own, "b" and "a". */
    private static Asset figure() throws Refused {
        Asset asset = RandomAssets.of(3);
        BitSet some = new BitSet();
        some.set(0, 20);
        BitSet others = new BitSet();
        others.set(25, 50);
        var figure = asset.meshes().getFirst();
        VertexSet first = VertexSet.chosen(figure, some);
        VertexSet second = VertexSet.chosen(figure, others);
        return done(
                done(asset, new OwnMaterial("figure", first, "b", false)),
                new OwnMaterial("figure", second, "a", false));
    }

    private static List<String> slots(Asset asset) {
        return asset.meshes().getFirst().primitives().stream()
                .map(p -> p.material() < 0
                        ? "-"
                        : asset.materials().get(p.material()).name())
                .toList();
    }

    /** What each material paints, as places. */
    private static Map<String, Set<String>> painted(Asset asset) {
        Map<String, Set<String>> out = new TreeMap<>();
        for (Primitive p : asset.meshes().getFirst().primitives()) {
            String name =
                    p.material() < 0 ? "-" : asset.materials().get(p.material()).name();
            for (int c : p.triangleCorners()) {
                out.computeIfAbsent(name, k -> new TreeSet<>())
                        .add(Arrays.toString(Arrays.copyOfRange(p.positions(), c * 3, c * 3 + 3)));
            }
        }
        return out;
    }

    @Test
    public void slotsStandInTheOrderGivenAndNothingElseChanges() throws Refused {
        Asset asset = figure();
        assertThat(slots(asset)).contains("a", "b");
        Change change = new OrderMaterials(List.of("a", "gone", "b")).apply(asset, Work.QUIET);
        Asset ordered = change.asset();
        assertThat(ordered.materials().stream().map(Material::name)).startsWith("a", "b");
        List<String> painting = slots(ordered).stream()
                .filter(s -> s.equals("a") || s.equals("b"))
                .distinct()
                .toList();
        assertThat(painting).containsExactly("a", "b");
        assertThat(painted(ordered)).isEqualTo(painted(asset));
        assertThat(MotionProbe.compare(asset, ordered, Work.QUIET).largestMetres())
                .isZero();
        assertThat(change.notes()).hasSize(1).first().asString().contains("gone");
        // Done twice it changes nothing more.
        assertThat(done(ordered, new OrderMaterials(List.of("a", "b"))).meshes())
                .isEqualTo(ordered.meshes());
        assertThatThrownBy(() -> done(asset, new OrderMaterials(List.of("x", "y"))))
                .isInstanceOf(Refused.class)
                .hasMessageContaining("x, y");
    }

    @Test
    public void mergedMaterialsLeaveOneSlotThatPaintsWhatTheyPainted() throws Refused {
        Asset asset = figure();
        Set<String> both = new TreeSet<>(painted(asset).get("a"));
        both.addAll(painted(asset).get("b"));
        Change change = new MergeMaterials(List.of("b", "a"), "a").apply(asset, Work.QUIET);
        Asset merged = change.asset();
        assertThat(merged.materials()).hasSize(asset.materials().size() - 1);
        assertThat(merged.materials()).extracting(Material::name).contains("a").doesNotContain("b");
        assertThat(painted(merged).get("a")).isEqualTo(both);
        assertThat(MotionProbe.compare(asset, merged, Work.QUIET).largestMetres())
                .isZero();
        assertThat(change.notes()).as("copies of one look alike").isEmpty();
        List<Material> red = new ArrayList<>(asset.materials());
        red.replaceAll(m ->
                m.name().equals("b") ? new Material("b", new float[] {1, 0, 0, 1}, -1, false, Passthrough.NONE) : m);
        assertThat(new MergeMaterials(List.of("b"), "a")
                        .apply(asset.withMaterials(red), Work.QUIET)
                        .notes())
                .hasSize(1)
                .first()
                .asString()
                .contains("b looked otherwise than a");
        assertThatThrownBy(() -> done(asset, new MergeMaterials(List.of("a"), "a")))
                .hasMessageContaining("only material");
        assertThatThrownBy(() -> done(asset, new MergeMaterials(List.of("c"), "a")))
                .hasMessageContaining("no material called c");
    }

    /** The same parts under other names and in another order get the reference's. */
    @Test
    public void aReferenceGivesNamesAndOrder() throws Refused {
        Asset reference = done(figure(), new OrderMaterials(List.of("a", "b")));
        List<Material> other = new ArrayList<>(figure().materials());
        other.replaceAll(m -> m.withName("mat." + m.name()));
        Asset asset = figure().withMaterials(other);
        List<Step> steps = NamesFrom.materials(asset, reference);
        assertThat(steps).hasSize(2);
        Asset alike = asset;
        for (Step step : steps) {
            alike = done(alike, step);
        }
        assertThat(alike.materials().stream().map(Material::name))
                .containsExactlyElementsOf(
                        reference.materials().stream().map(Material::name).toList());
        assertThat(slots(alike)).isEqualTo(slots(reference));
        assertThat(painted(alike)).isEqualTo(painted(reference));
        assertThat(NamesFrom.materials(alike, reference)).isEmpty();
    }
}
