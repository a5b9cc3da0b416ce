package org.cleanmarrow.work;

import java.util.List;
import java.util.Map;
import org.cleanmarrow.text.Message;

/**
 * What a step did.
 *
 * @param counts how many of what, in the order they were said
 * @param notes  what it could not do or had to choose
 */
public record Outcome(Map<Message, Long> counts, List<Message> notes) {}
