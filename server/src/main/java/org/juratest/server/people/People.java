package org.juratest.server.people;

import java.util.Optional;
import org.juratest.server.web.NotFoundException;
import org.springframework.jdbc.core.simple.JdbcClient;
import org.springframework.security.core.userdetails.User;
import org.springframework.security.core.userdetails.UserDetails;
import org.springframework.security.core.userdetails.UserDetailsService;
import org.springframework.security.core.userdetails.UsernameNotFoundException;
import org.springframework.stereotype.Repository;

/** People in the database. */
@Repository
public class People implements UserDetailsService {

    private final JdbcClient jdbc;

    public People(JdbcClient jdbc) {
        this.jdbc = jdbc;
    }

    @Override
    public UserDetails loadUserByUsername(String id) {
        Optional<UserDetails> found = jdbc.sql("SELECT id, password_hash, role, active FROM person WHERE id = :id")
                .param("id", id)
                .query((rs, i) -> (UserDetails) User.withUsername(rs.getString(1))
                        .password(rs.getString(2))
                        .roles(rs.getString(3))
                        .disabled(!rs.getBoolean(4))
                        .build())
                .optional();
        return found.orElseThrow(() -> new UsernameNotFoundException("no such person"));
    }

    /** Name of a person; the sign-in name where nobody of that name is known any more. */
    public String name(String id) {
        return jdbc.sql("SELECT name FROM person WHERE id = :id")
                .param("id", id)
                .query(String.class)
                .optional()
                .orElse(id);
    }

    /** @throws NotFoundException if there is none */
    public Person byId(String id) {
        return jdbc.sql("SELECT id, name, role, must_change FROM person WHERE id = :id")
                .param("id", id)
                .query((rs, i) -> new Person(rs.getString(1), rs.getString(2), rs.getString(3), rs.getBoolean(4)))
                .optional()
                .orElseThrow(() -> new NotFoundException("person", id));
    }
}
