package org.cleanmarrow.formats.report;

import java.util.Base64;
import java.util.List;
import org.cleanmarrow.picture.Pixels;

/** A page that needs nothing but itself: no script, no font, no picture from anywhere, and its browser is told to allow none. */
final class Html {
    private static final String STYLE = """
        :root{--paper:#F3EEE4;--card:#FBF8F2;--line:#D9D0C1;--ink:#23201D;--ink2:#6A6259;--marrow:#9C2F2A;--clean:#2E6E68;\
        --ochre:#A86B12;--slate:#51606F}
        body{margin:0;background:var(--paper);color:var(--ink);font:15px/1.5 system-ui,sans-serif}
        main{max-width:1120px;margin:0 auto;padding:28px 32px 48px}
        h1{font-size:26px;margin:0 0 4px}h2{font-size:18px;margin:28px 0 8px;border-bottom:1px solid var(--line);padding-bottom:4px}
        p{margin:4px 0 10px;max-width:70em}.quiet{color:var(--ink2)}
        table{border-collapse:collapse;width:100%;background:var(--card);font-size:14px}
        th,td{text-align:left;padding:5px 10px;border-bottom:1px solid var(--line);vertical-align:top;overflow-wrap:anywhere}
        th{color:var(--ink2);font-weight:600;white-space:nowrap}td.n,th.n{text-align:right;font-variant-numeric:tabular-nums;white-space:nowrap}
        .pictures{display:grid;grid-template-columns:repeat(auto-fill,minmax(250px,1fr));gap:14px}
        figure{margin:0;background:var(--card);border:1px solid var(--line)}img{display:block;width:100%;height:auto}
        figcaption{padding:6px 10px;font-size:13px;color:var(--ink2)}
        .blocker{color:var(--marrow);font-weight:600}.caution{color:var(--ochre);font-weight:600}.note{color:var(--slate)}
        .sound{color:var(--clean);font-weight:600}code{font-size:12px}
        @media print{body{background:#fff;font-size:11px}main{max-width:none;padding:0}table{font-size:10px}
        .pictures{grid-template-columns:repeat(4,1fr)}tr,figure{break-inside:avoid}h2{break-after:avoid}}
        @page{margin:14mm}
        """;

    private final StringBuilder out = new StringBuilder();

    Html(String title) {
        out.append("<!DOCTYPE html>\n<html lang=\"en\"><head><meta charset=\"utf-8\">");
        out.append("<meta http-equiv=\"Content-Security-Policy\" content=\"default-src 'none'; img-src data:; ");
        out.append("style-src 'unsafe-inline'\"><meta name=\"viewport\" content=\"width=device-width\"><title>");
        out.append(escaped(title)).append("</title><style>\n").append(STYLE).append("</style></head><body><main>\n");
        out.append("<h1>").append(escaped(title)).append("</h1>\n");
    }

    /** A text as it may stand between and within tags. */
    static String escaped(String text) {
        StringBuilder out = new StringBuilder();
        for (int c : text.codePoints().toArray()) {
            switch (c) {
                case '&' -> out.append("&amp;");
                case '<' -> out.append("&lt;");
                case '>' -> out.append("&gt;");
                case '"' -> out.append("&quot;");
                case '\'' -> out.append("&#39;");
                // Control signs are no part of a page, and half of a pair is no sign.
                default ->
                    out.appendCodePoint(
                            c < 0x20 && c != '\n' || Character.getType(c) == Character.SURROGATE ? 0xFFFD : c);
            }
        }
        return out.toString();
    }

    void heading(String text) {
        out.append("<h2>").append(escaped(text)).append("</h2>\n");
    }

    /** @param kind class of the sentence, such as {@code quiet} */
    void sentence(String text, String kind) {
        out.append("<p class=\"")
                .append(kind)
                .append("\">")
                .append(escaped(text))
                .append("</p>\n");
    }

    /**
     * A table; cells that are numbers stand to the right.
     *
     * @param heads an empty one for a column without
     */
    void table(List<String> heads, List<List<Object>> rows) {
        out.append("<table><thead><tr>");
        for (int c = 0; c < heads.size(); c++) {
            boolean numbers = !rows.isEmpty() && rows.getFirst().get(c) instanceof Number;
            out.append(numbers ? "<th class=\"n\">" : "<th>")
                    .append(escaped(heads.get(c)))
                    .append("</th>");
        }
        out.append("</tr></thead><tbody>\n");
        for (List<Object> row : rows) {
            out.append("<tr>");
            for (Object cell : row) {
                out.append(cell instanceof Number ? "<td class=\"n\">" : "<td>");
                out.append(
                        cell instanceof Marked marked
                                ? "<span class=\"" + marked.kind + "\">" + escaped(marked.text) + "</span>"
                                : escaped(cell instanceof Long l ? String.format("%,d", l) : cell.toString()));
                out.append("</td>");
            }
            out.append("</tr>\n");
        }
        out.append("</tbody></table>\n");
    }

    /** A cell that stands out. */
    record Marked(String text, String kind) {}

    void beginPictures() {
        out.append("<div class=\"pictures\">\n");
    }

    void picture(Pixels.Some pixels, String caption) {
        out.append("<figure><img alt=\"")
                .append(escaped(caption))
                .append("\" width=\"")
                .append(pixels.width());
        out.append("\" height=\"").append(pixels.height()).append("\" src=\"data:image/png;base64,");
        out.append(Base64.getEncoder().encodeToString(Pixels.png(pixels))).append("\"><figcaption>");
        out.append(escaped(caption)).append("</figcaption></figure>\n");
    }

    void endPictures() {
        out.append("</div>\n");
    }

    String page() {
        return out + "</main></body></html>\n";
    }
}
