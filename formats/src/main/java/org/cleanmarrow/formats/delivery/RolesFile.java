package org.cleanmarrow.formats.delivery;

import java.nio.charset.StandardCharsets;
import org.cleanmarrow.model.Asset;
import org.cleanmarrow.roles.Body;
import tools.jackson.databind.json.JsonMapper;
import tools.jackson.databind.node.ObjectNode;

/** Which joint has which role, for whoever maps clips of one skeleton to another: {@code {"roles": {"hips": "joint", …}}}. */
final class RolesFile {
    private RolesFile() {}

    static byte[] of(Asset asset) {
        ObjectNode json = JsonMapper.shared().createObjectNode();
        ObjectNode roles = json.putObject("roles");
        Body.of(asset).roles().forEach((role, guess) -> roles.put(role.code(), asset.nodeRef(guess.node())));
        return (json.toPrettyString() + "\n").getBytes(StandardCharsets.UTF_8);
    }
}
