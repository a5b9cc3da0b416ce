package org.cleanmarrow.demo.fault;

/**
 * A fault that was put into a demo asset on purpose.
 *
 * @param check id of the check that finds it
 * @param where in a few words
 * @param count how many vertices, joints or channels; 0 where counting has no sense
 */
public record PlantedFault(String check, String where, int count) {}
