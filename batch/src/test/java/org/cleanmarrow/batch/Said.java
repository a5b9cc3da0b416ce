package org.cleanmarrow.batch;

import java.io.PrintWriter;
import java.io.StringWriter;
import tools.jackson.databind.JsonNode;
import tools.jackson.databind.json.JsonMapper;

/** What a command said, on which side, and with which code it ended. */
record Said(int code, String out, String err) {
    JsonNode json() {
        return JsonMapper.shared().readTree(out);
    }

    static Said run(String... arguments) {
        StringWriter out = new StringWriter();
        StringWriter err = new StringWriter();
        int code = Main.run(new PrintWriter(out, true), new PrintWriter(err, true), arguments);
        return new Said(code, out.toString(), err.toString());
    }
}
