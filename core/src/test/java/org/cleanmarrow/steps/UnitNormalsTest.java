package org.cleanmarrow.steps;

import static org.assertj.core.api.Assertions.assertThat;

import java.util.List;
import org.cleanmarrow.checks.Checks;
import org.cleanmarrow.convention.Conventions;
import org.cleanmarrow.examination.Target;
import org.cleanmarrow.model.Asset;
import org.cleanmarrow.model.Local;
import org.cleanmarrow.model.Mesh;
import org.cleanmarrow.model.Node;
import org.cleanmarrow.model.Primitive;
import org.cleanmarrow.steps.intake.UnitNormals;
import org.cleanmarrow.work.Change;
import org.cleanmarrow.work.Work;
import org.testng.annotations.Test;

/** Lengths by glTF 2.0, 3.7.2.1: normals are unit length. */
public class UnitNormalsTest {
    private static Asset triangle(float... normals) {
        Primitive p = Primitive.triangles(new int[] {0, 1, 2}, new float[] {0, 0, 0, 1, 0, 0, 0, 1, 0}, normals, -1);
        return Asset.of(
                "t",
                Conventions.GLTF,
                List.of(Node.group("t", Local.IDENTITY).withMesh(0, -1)),
                List.of(Mesh.of("t", p)),
                List.of(),
                List.of());
    }

    private static List<String> found(Asset asset) {
        return Checks.run(asset, Target.of(Conventions.GLTF), Work.QUIET).stream()
                .filter(f -> f.check().equals("normals"))
                .map(f -> f.count() + " " + f.fix().isPresent())
                .toList();
    }

    @Test
    public void longAndShortOnesAreScaledAndThoseOfNoLengthTakenFromTheSurface() throws Exception {
        // The triangle faces z; a length within the validator's tolerance keeps its numbers to the bit.
        Asset asset = triangle(3, 0, 4, 0, 0, 0, 0, 0.9999f, 0);
        assertThat(found(asset)).containsExactly("2 true");
        Change change = new UnitNormals().apply(asset, Work.QUIET);
        Primitive p = change.asset().meshes().getFirst().primitives().getFirst();
        assertThat(p.normals()).containsExactly(0.6f, 0, 0.8f, 0, 0, 1, 0, 0.9999f, 0);
        assertThat(p.positions())
                .isSameAs(asset.meshes().getFirst().primitives().getFirst().positions());
        assertThat(found(change.asset())).isEmpty();
    }

    @Test
    public void whatIsSoundOrNoNumberStays() throws Exception {
        Asset sound = triangle(0, 0, 1, 0, 0, 1, 0, 0, 1);
        assertThat(found(sound)).isEmpty();
        assertThat(new UnitNormals().apply(sound, Work.QUIET).asset()).isSameAs(sound);
        Asset broken = triangle(Float.NaN, 0, 1, 0, 0, 1, 0, 0, 1);
        assertThat(found(broken)).isEmpty();
        assertThat(new UnitNormals().apply(broken, Work.QUIET).asset()).isSameAs(broken);
    }
}
