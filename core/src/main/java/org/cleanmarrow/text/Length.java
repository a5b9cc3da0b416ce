package org.cleanmarrow.text;

/** A length in metres as a fact of a message; infinite where something is gone. */
public record Length(double metres) {}
