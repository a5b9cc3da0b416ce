package org.cleanmarrow.model;

import org.jspecify.annotations.Nullable;

/**
 * A picture, in memory or beside the file.
 *
 * @param mimeType such as {@code image/png}; empty where the file did not say
 * @param uri      relative path where the picture is a file of its own; empty where it is embedded
 * @param bytes    the encoded picture, or null where the file it names is missing
 */
public record Image(String name, String mimeType, String uri, byte @Nullable [] bytes, Passthrough carried) {}
