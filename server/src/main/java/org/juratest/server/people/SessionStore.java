package org.juratest.server.people;

import java.util.Map;
import javax.sql.DataSource;
import org.juratest.server.db.SafetyPool;
import org.springframework.boot.jdbc.autoconfigure.JdbcConnectionDetails;
import org.springframework.context.annotation.Bean;
import org.springframework.context.annotation.Configuration;
import org.springframework.jdbc.support.JdbcTransactionManager;
import org.springframework.session.jdbc.config.annotation.SpringSessionDataSource;
import org.springframework.transaction.TransactionDefinition;
import org.springframework.transaction.support.TransactionOperations;
import org.springframework.transaction.support.TransactionTemplate;

/**
 * Sessions have connections of their own: every beat looks its session up, and must not wait for what exports or
 * imports hold.
 */
@Configuration(proxyBeanMethods = false)
class SessionStore {

    private static final int CONNECTIONS = 5;

    @Bean(defaultCandidate = false, destroyMethod = "close")
    @SpringSessionDataSource
    DataSource sessionDataSource(JdbcConnectionDetails database) {
        return SafetyPool.pool(
                "sessions", database, CONNECTIONS, 2000, Map.of("socketTimeout", "5", "connectTimeout", "2"));
    }

    @Bean
    TransactionOperations springSessionTransactionOperations(@SpringSessionDataSource DataSource sessions) {
        TransactionTemplate transaction = new TransactionTemplate(new JdbcTransactionManager(sessions));
        transaction.setPropagationBehavior(TransactionDefinition.PROPAGATION_REQUIRES_NEW);
        return transaction;
    }
}
