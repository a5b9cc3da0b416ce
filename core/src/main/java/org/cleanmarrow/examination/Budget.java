package org.cleanmarrow.examination;

/** What a target may set a limit to. Its key names it in a target's JSON and in the words of the interface. */
public enum Budget {
    /** Joints that a vertex follows. */
    INFLUENCES("influences", 255),
    /** Joints of all skins, each once. */
    JOINTS("joints", Integer.MAX_VALUE),
    /** Triangles of all parts that are exported, each use of a mesh by itself. */
    TRIANGLES("triangles", Integer.MAX_VALUE),
    /** Triangles of one mesh. */
    PART_TRIANGLES("trianglesPerPart", Integer.MAX_VALUE),
    /** Vertices of all parts that are exported, each use of a mesh by itself. */
    VERTICES("vertices", Integer.MAX_VALUE),
    /** Materials that what is exported is painted with. */
    MATERIALS("materials", Integer.MAX_VALUE),
    /** Pictures that these materials show. */
    TEXTURES("textures", Integer.MAX_VALUE),
    /** Pixels along the longer side of such a picture. */
    TEXTURE_SIDE("texturePixels", Integer.MAX_VALUE),
    /** Seconds from a clip's first key to its last; need not be a whole number. */
    CLIP_SECONDS("clipSeconds", 1e6),
    /** Millimetres by which a body may show through what it wears in trial poses; need not be a whole number. */
    POKE_MILLIMETRES("pokeThroughMillimetres", 1000),
    /** Triangles of one body that nobody sees under what it wears. */
    UNSEEN_TRIANGLES("unseenTriangles", Integer.MAX_VALUE),
    /** Bytes of one delivered file. */
    FILE_BYTES("fileBytes", 1L << 53);

    private final String key;
    private final double highest;

    Budget(String key, double highest) {
        this.key = key;
        this.highest = highest;
    }

    public String key() {
        return key;
    }

    /** The highest limit that can be set. */
    public double highest() {
        return highest;
    }

    public boolean whole() {
        return this != CLIP_SECONDS && this != POKE_MILLIMETRES;
    }

    /** True where a number can be this limit: from 1 up, of those that need not be whole anything over 0. */
    public boolean takes(double limit) {
        return limit <= highest && (whole() ? limit >= 1 && limit == Math.rint(limit) : limit > 0);
    }
}
