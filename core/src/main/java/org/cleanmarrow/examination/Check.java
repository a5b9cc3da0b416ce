package org.cleanmarrow.examination;

import java.util.List;

/** A rule: a pure function from an asset and a target to the places that break it. */
public interface Check {
    /** Short stable name, used in JSON and as key of its sentences. */
    String id();

    /** The station where its findings are mended. */
    Station station();

    List<Finding> run(Examination examination);
}
