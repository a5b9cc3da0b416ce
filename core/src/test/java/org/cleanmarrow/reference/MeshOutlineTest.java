package org.cleanmarrow.reference;

import static org.assertj.core.api.Assertions.assertThat;

import java.io.ByteArrayOutputStream;
import java.io.DataOutputStream;
import java.util.Random;
import java.util.zip.DeflaterOutputStream;
import org.cleanmarrow.kit.RandomAssets;
import org.cleanmarrow.model.Mesh;
import org.cleanmarrow.surface.MeshTopology;
import org.testng.annotations.Test;

public class MeshOutlineTest {
    @Test
    public void aMeshComesBackFromItsBytes() {
        Mesh mesh = RandomAssets.of(4).meshes().getFirst();
        MeshOutline outline = MeshOutline.of(mesh);
        MeshOutline back = MeshOutline.unpack(outline.packed()).orElseThrow();
        assertThat(back).isEqualTo(outline).hasSameHashCodeAs(outline);
        assertThat(MeshTopology.restPositions(back.mesh())).isEqualTo(MeshTopology.restPositions(mesh));
        assertThat(MeshTopology.of(back.mesh()).corners())
                .isEqualTo(MeshTopology.of(mesh).corners());
        assertThat(back.isOrderOf(mesh)).isTrue();
        assertThat(back.isOrderOf(RandomAssets.of(5).meshes().get(1))).isFalse();
    }

    /** Counts, corners and numbers that nobody vouches for. */
    @Test
    public void bytesThatLieAreNoOutlineAndTakeNoMemory() throws Exception {
        assertThat(MeshOutline.unpack(new byte[0])).isEmpty();
        assertThat(MeshOutline.unpack(bytes(1, Integer.MAX_VALUE, 0, 0))).isEmpty();
        assertThat(MeshOutline.unpack(bytes(1, 3_999_999, 7_999_999, 1))).isEmpty();
        assertThat(MeshOutline.unpack(bytes(-1))).isEmpty();
        assertThat(MeshOutline.unpack(bytes(1, 1, 1, 0, 0, 0, 0, 0, 0, 1)))
                .as("a corner too far")
                .isEmpty();
        assertThat(MeshOutline.unpack(bytes(1, 1, 0, 0, Float.floatToIntBits(Float.NaN), 0, 0)))
                .isEmpty();
        assertThat(MeshOutline.unpack(bytes(1, 1, 0, 0, 0, 0, 0, 9)))
                .as("more than it says")
                .isEmpty();
        assertThat(MeshOutline.unpack(bytes(1, 1, 0, 0, 0, 0, 0))).isPresent();
        byte[] sound = MeshOutline.of(RandomAssets.of(6).meshes().getFirst()).packed();
        Random random = new Random(3);
        for (int i = 0; i < 300; i++) {
            byte[] broken = sound.clone();
            broken[random.nextInt(broken.length)] ^= (byte) (1 << random.nextInt(8));
            MeshOutline.unpack(broken)
                    .ifPresent(o -> assertThat(o.mesh().vertexCount()).isNotNegative());
        }
    }

    /** Whole numbers, the third of a primitive as one byte: whether it has texture coordinates. */
    private static byte[] bytes(int... values) throws Exception {
        ByteArrayOutputStream out = new ByteArrayOutputStream();
        try (DataOutputStream data = new DataOutputStream(new DeflaterOutputStream(out))) {
            for (int i = 0; i < values.length; i++) {
                if (i == 3) {
                    data.writeBoolean(values[i] != 0);
                } else {
                    data.writeInt(values[i]);
                }
            }
        }
        return out.toByteArray();
    }
}
