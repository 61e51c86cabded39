package org.juratest.server.register;

import java.time.Instant;
import java.util.ArrayList;
import java.util.List;
import java.util.Optional;
import org.jspecify.annotations.Nullable;
import org.juratest.core.register.FieldProblem;
import org.juratest.server.web.FieldsException;
import org.juratest.server.web.NotFoundException;
import org.springframework.jdbc.core.simple.JdbcClient;
import org.springframework.stereotype.Service;
import org.springframework.transaction.annotation.Transactional;

/** Devices of one kind that come to a position one after the other: the next has the plate of the one before. */
@Service
public class LikeDevices {

    private final JdbcClient jdbc;
    private final Acts acts;
    private final NewAssets newAssets;
    private final Exchanges exchanges;

    LikeDevices(JdbcClient jdbc, Acts acts, NewAssets newAssets, Exchanges exchanges) {
        this.jdbc = jdbc;
        this.acts = acts;
        this.newAssets = newAssets;
        this.exchanges = exchanges;
    }

    /**
     * A device.
     *
     * @param stands whether it stands at the position now
     */
    public record Device(
            String id,
            String assetClass,
            String className,
            String maker,
            String model,
            String serial,
            boolean stands) {}

    /** What stands at a position, or else what stood there last; empty where nothing ever did. */
    public Optional<Device> last(String position) {
        return jdbc.sql(
                        """
        SELECT a.id, a.class, c.title, a.maker, a.model, a.serial, upper_inf(i.during) FROM installation i
        JOIN asset a ON a.id = i.asset JOIN asset_class c ON c.code = a.class
        WHERE i.position = :position ORDER BY upper_inf(i.during) DESC, upper(i.during) DESC LIMIT 1""")
                .param("position", position)
                .query((rs, i) -> new Device(
                        rs.getString(1),
                        rs.getString(2),
                        rs.getString(3),
                        rs.getString(4),
                        rs.getString(5),
                        rs.getString(6),
                        rs.getBoolean(7)))
                .optional();
    }

    /** A device of the same kind that has a serial number already; null where none has. */
    public @Nullable String has(Device like, String serial) {
        return jdbc.sql("SELECT id FROM asset WHERE maker = :maker AND model = :model AND serial = :serial")
                .param("maker", like.maker)
                .param("model", like.model)
                .param("serial", serial)
                .query(String.class)
                .optional()
                .orElse(null);
    }

    /**
     * Adds a device like another and puts it in its place; what stood there goes to the store.
     *
     * @return its id
     * @throws FieldsException naming {@code serial} where that is taken or cannot be, or what the exchange minds
     */
    @Transactional
    public String next(String position, String serial, String by) {
        // Whoever else does the same waits here, and sees then what stands there.
        jdbc.sql("SELECT code FROM position WHERE code = :position FOR UPDATE")
                .param("position", position)
                .query(String.class)
                .optional()
                .orElseThrow(() -> new NotFoundException("position", position));
        Device like = last(position)
                .orElseThrow(() -> new FieldsException(List.of(new FieldProblem(
                        "position", "Nothing ever stood at " + position + "; install the first device of the kind."))));
        List<FieldProblem> problems = new ArrayList<>();
        Codes.words("serial", "its number", serial, problems);
        newAssets.sameDevice("", like.maker, like.model, serial, problems);
        FieldsException.throwIf(problems);
        String id = newAssets.nextId(like.assetClass);
        acts.begin(by, "Added the asset " + id + " like " + like.id + ", " + like.maker + " " + like.model);
        jdbc.sql("INSERT INTO asset (id, class, maker, model, serial, nameplate, curve) SELECT :id, class, maker, "
                        + "model, :serial, nameplate, curve FROM asset WHERE id = :like")
                .param("id", id)
                .param("serial", serial)
                .param("like", like.id)
                .update();
        // By the time of the transaction: what follows in it looks for what stands there by then.
        Instant at = jdbc.sql("SELECT now()")
                .query((rs, i) -> rs.getTimestamp(1).toInstant())
                .single();
        exchanges.exchange(
                new Exchanges.Exchange(
                        position, like.stands ? like.id : null, null, id, null, null, at, "next of a series"),
                by);
        return id;
    }
}
