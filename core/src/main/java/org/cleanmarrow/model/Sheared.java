package org.cleanmarrow.model;

/** Something attached cannot follow a scale that differs by direction. A step during which it is thrown is refused. */
public final class Sheared extends RuntimeException {
    private static final long serialVersionUID = 1;

    private final String name;

    /** @param name of what cannot follow */
    public Sheared(String name) {
        super(name, null, false, false);
        this.name = name;
    }

    public String name() {
        return name;
    }
}
