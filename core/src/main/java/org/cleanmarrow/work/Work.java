package org.cleanmarrow.work;

import java.util.concurrent.CancellationException;

/** How long work says how far it is, and hears that it is no longer wanted. */
public interface Work {
    /** Work that nobody watches and nobody cancels. */
    Work QUIET = new Work() {
        @Override
        public void at(double share, String doing) {}

        @Override
        public boolean cancelled() {
            return false;
        }
    };

    /**
     * Reports progress.
     *
     * @param share 0 to 1, or below 0 where it is not known
     * @param doing what is being done, for people
     */
    void at(double share, String doing);

    boolean cancelled();

    /** Ends the work here when it was cancelled. */
    default void stopIfCancelled() {
        if (cancelled()) {
            throw new CancellationException("cancelled");
        }
    }

    /** The same work for a part of it: what that part says of its own share lies between these shares of the whole. */
    default Work part(double from, double to) {
        Work whole = this;
        return new Work() {
            @Override
            public void at(double share, String doing) {
                whole.at(share < 0 ? share : from + share * (to - from), doing);
            }

            @Override
            public boolean cancelled() {
                return whole.cancelled();
            }
        };
    }
}
